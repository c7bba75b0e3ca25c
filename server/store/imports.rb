# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Recordings on their way in: which files there are, how much of each has landed, what each holds.
      class Imports
        # An import that nobody goes on with is swept after this.
        KEPT_H = 24
        private_constant :KEPT_H

        def initialize(database, changes = Changes.new(database))
          @database, @changes = database, changes
        end

        # @param source [String, nil] a folder of this machine, nil where a browser brings the files
        # @param files [Array<Hash>] title, path (below the import's folder, or the source), bytes
        # @return [Integer] id
        def open(show_id, files, source: nil)
          @database.transaction do
            id = @database[:imports].insert(show_id: show_id, source: source)
            rows = files.map.with_index(1) { |file, number| {import_id: id, number: number, landed: source ? file[:bytes] : 0, **file} }
            @database[:import_files].multi_insert(rows)
            id
          end
        end

        # @return [Hash] id, uid, show_id, source, state, task_id, list
        # @raise [BadInput]
        def find(show_id, id)
          @database[:imports].where(show_id: show_id, id: id).first or raise BadInput.new(field: "import", value: id, allowed: "an import that is open")
        end

        # For the worker.
        #
        # @return [Hash, nil]
        def get(id) = @database[:imports].where(id: id).first

        # @return [Array<Hash>] number, title, path, bytes, landed, holds, fault
        def files(id) = @database[:import_files].where(import_id: id).order(:number).all.map { |file| file.merge(holds: file[:holds]&.to_h) }

        # @raise [BadInput]
        def file(id, number)
          @database[:import_files].where(import_id: id, number: number).first or raise BadInput.new(field: "file", value: number, allowed: "a file of this import")
        end

        def landed(id, number, bytes)
          @database[:import_files].where(import_id: id, number: number).update(landed: bytes)
          touch(id)
        end

        # @param holds [Hash, nil] see Actions::Import.inspect
        # @param fault [String, nil] why it cannot be taken
        def looked_at(id, number, holds, fault)
          @database[:import_files].where(import_id: id, number: number).update(holds: holds && Sequel.pg_jsonb(holds), fault: fault)
        end

        # Files in the place of the one that held them.
        #
        # @param files [Array<Hash>] title, path, bytes
        # @return [Boolean] false where it was gone already
        def replace(id, number, files)
          @database.transaction do
            @database[:imports].where(id: id).for_update.first
            next false if @database[:import_files].where(import_id: id, number: number).delete.zero?

            last = @database[:import_files].where(import_id: id).max(:number) || number
            rows = files.map.with_index([last, number].max + 1) { |file, at| {import_id: id, number: at, landed: file[:bytes], **file} }
            @database[:import_files].multi_insert(rows)
            true
          end
        end

        # The list that came along is no sound: it names the others.
        #
        # @param list [Hash] file (its number), title, names
        def list(id, list) = @database[:imports].where(id: id).update(list: Sequel.pg_jsonb(list))

        def task(id, task_id, state: nil)
          @database[:imports].where(id: id).update({task_id: task_id, state: state, touched_at: Sequel::CURRENT_TIMESTAMP}.compact)
        end

        def state(id, state) = @database[:imports].where(id: id).update(state: state, touched_at: Sequel::CURRENT_TIMESTAMP)
        def delete(id) = @database[:imports].where(id: id).delete

        # @return [Array<String>] uids of imports that are there
        def uids = @database[:imports].select_map(:uid)

        # @return [Array<Hash>] those that nobody went on with for a day, or that are over
        def left = @database[:imports].exclude(state: "making").where { touched_at < Sequel.lit("now() - interval '#{KEPT_H} hours'") }.all

        private

        def touch(id) = @database[:imports].where(id: id).update(touched_at: Sequel::CURRENT_TIMESTAMP)
      end
    end
  end
end
