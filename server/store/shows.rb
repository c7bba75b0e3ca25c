# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Shows with their versions and their history. Every change happens in one
      # transaction that holds the show's row, so that two browsers never mix.
      class Shows
        # A show as it is at one version.
        Kept = Value.of(:id, :version, :show)

        # An edit that was made for an older version.
        class Outdated < StandardError; end

        def initialize(database, codec)
          @database = database
          @codec = codec
          @cache = {}
        end

        def create(show) = @database[:shows].insert(document: document(show))
        def first_id = @database[:shows].order(:id).get(:id)

        # @return [Kept]
        def load(id)
          version = @database[:shows].where(id: id).get(:version) or raise BadInput.new(field: "show", value: id, allowed: "a show that is there")
          return @cache[id] if @cache[id]&.version == version

          @cache[id] = read(@database[:shows].where(id: id))
        end

        # Changes a show under its version.
        #
        # @param version [Integer, nil] the one the change was made for; nil takes any
        # @yield [Show] answers the changed show, or a Refusal that leaves all as it was
        # @return [Kept, Refusal]
        # @raise [Outdated]
        def change(id, version)
          @database.transaction do
            kept = locked(id)
            raise Outdated, "the show is at version #{kept.version} by now, the change was made for #{version}" if version && kept.version != version

            result = yield kept.show
            return result if result.is_a?(Refusal)

            @database[:shows].where(id: id).update(version: kept.version + 1, document: document(result))
            Kept.new(id: id, version: kept.version + 1, show: result)
          end.tap { |kept| @cache[id] = kept }
        end

        # @return [Integer] history entry's id; called inside `change`
        def remember(id, label, edit, inverse)
          @database[:edits].where(show_id: id, undone: true).delete
          @database[:edits].insert(show_id: id, label: label, edit: Sequel.pg_jsonb(edit.to_data), inverse: Sequel.pg_jsonb(inverse.to_data))
        end

        # Drops the history: it says nothing about a show that came from a file.
        def forget(id) = @database[:edits].where(show_id: id).delete

        # @return [Hash, nil] {id:, label:, edit:, inverse:} newest that is done
        def last_done(id) = entry(@database[:edits].where(show_id: id, undone: false).reverse(:id))

        # @return [Hash, nil] oldest of those that were undone
        def last_undone(id) = entry(@database[:edits].where(show_id: id, undone: true).order(:id))

        def mark(entry_id, undone) = @database[:edits].where(id: entry_id).update(undone: undone)

        private

        def read(dataset)
          row = dataset.first
          Kept.new(id: row[:id], version: row[:version], show: @codec.build(JSON.parse(JSON.generate(row[:document]))))
        end

        # The row is held until the transaction ends; its document is only read again when
        # another process changed it.
        def locked(id)
          version = @database[:shows].where(id: id).for_update.get(:version)
          (@cache[id]&.version == version) ? @cache[id] : read(@database[:shows].where(id: id))
        end

        def entry(dataset)
          row = dataset.first
          row && {id: row[:id], label: row[:label], edit: decode(row[:edit]), inverse: decode(row[:inverse])}
        end

        def decode(json) = Edits.from_h(JSON.parse(JSON.generate(json)))
        def document(show) = Sequel.pg_jsonb(Exchange::ShowFile.data(show))
      end
    end
  end
end
