# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Takes, and which file's channel holds which stretch of which track. Recorded ones are
      # read from their journals (TakesKeeper); nothing here is known that the disk does not say.
      class Takes
        # Of a take: what a list of takes needs.
        COLUMNS = %i[id uid number name notes folder origin frames state reason sample_rate_hz encoding over copy started_at lost_frames bytes].freeze
        FILE_COLUMNS = %i[track file channel name part at_frames frames was].freeze
        private_constant :COLUMNS, :FILE_COLUMNS

        def initialize(database, changes = Changes.new(database))
          @database, @changes = database, changes
        end

        def count(show_id) = @database[:takes].where(show_id: show_id).count

        # @return [Array<Hash>] newest first, each with :files and :log (marks, breaks, losses)
        def of_show(show_id, from: 0, limit: nil)
          takes = @database[:takes].where(show_id: show_id).reverse(:number).limit(limit, from).all
          files = @database[:take_files].where(take_id: takes.map { |take| take[:id] }).order(:track, :part).all.group_by { |file| file[:take_id] }
          takes.map { |take| data(take, files.fetch(take[:id], [])) }
        end

        # Takes that can follow one without a gap: recorded later, over, at the same rate.
        #
        # @param take [Hash]
        # @return [Array<Hash>] in their order, few: each has a file a track
        def behind(show_id, take)
          later = @database[:takes].where(show_id: show_id, state: "closed", sample_rate_hz: take[:sample_rate_hz]).where { number > take[:number] }
          later.order(:number).limit(BEHIND_MAX).select_map(:id).map { |id| find(show_id, id) }
        end

        BEHIND_MAX = 8
        private_constant :BEHIND_MAX

        # @raise [BadInput]
        def find(show_id, id)
          take = @database[:takes].where(show_id: show_id, id: id).first or raise BadInput.new(field: "take", value: id, allowed: "a take of this show")
          data(take, @database[:take_files].where(take_id: id).order(:track, :part).all)
        end

        # @return [Integer, nil]
        def id_of(uid) = @database[:takes].where(uid: uid).get(:id)

        # What checks read of the takes; of the newest one that is over its files as well.
        #
        # @return [Array<Hash>] see Checks::Facts
        def facts(show_id)
          takes = @database[:takes].where(show_id: show_id).order(:number).select(:id, :number, :sample_rate_hz, :origin, :state).all
          newest = takes.reverse.find { |take| take[:state] == "closed" }
          takes.map { |take| take.slice(:number, :sample_rate_hz).merge(take.equal?(newest) ? {imported: take[:origin] == "imported", tracks: tracks(take[:id])} : {}) }
        end

        def next_number(show_id) = (@database[:takes].where(show_id: show_id).max(:number) || 0) + 1

        # An imported one. Its number is settled while the show's row is held: two that end at the same moment
        # do not take the same.
        #
        # @param take [Hash] columns; without a name it is called by its number
        # @param files [Array<Hash>] {track:, file:, channel:, name:}
        # @return [Integer] id
        def create(take, files)
          @database.transaction do
            @database[:shows].where(id: take[:show_id]).for_update.get(:id)
            number = take[:number] || next_number(take[:show_id])
            id = @database[:takes].insert({name: "Take #{number}", number: number, **take.compact})
            lay_files(id, files)
            @changes.say("takes", show: take[:show_id], id: id)
            id
          end
        end

        # What a journal says, in place of whatever was known of that take.
        #
        # @param take [Hash] columns with :uid
        # @param files [Array<Hash>]
        # @return [Integer, nil] id where something changed
        def keep(take, files)
          kept(take, files)
        rescue Sequel::UniqueConstraintViolation
          # Whoever pressed Record and the keeper read the same new journal at the same moment: by
          # now its row is there.
          kept(take, files)
        end

        # @return [Array<Hash>] recorded ones that are not closed, as far as is known here
        def open = @database[:takes].exclude(state: "closed").select(:id, :uid, :folder, :number).all
        def close(id, reason:) = told(id) { |take| take.update(state: "closed", reason: reason) }
        def delete(id) = told(id, &:delete)

        # @return [Array<String>] below the takes' folder
        def folders(show_id) = @database[:takes].where(show_id: show_id).select_order_map(:folder)

        private

        # @return [Hash{String => Hash}] track => {name:, frames:}, all its stretches together
        def tracks(id)
          files = @database[:take_files].where(take_id: id).order(:track, :part).select(:track, :name, :frames).all
          files.group_by { |file| file[:track] }.transform_values { |parts| {name: parts.first[:name], frames: parts.sum { |part| part[:frames].to_i }} }
        end

        def kept(take, files)
          @database.transaction do
            known = @database[:takes].where(uid: take[:uid]).for_update.first
            next if known && unchanged?(known, take)

            id = known ? written_over(known[:id], take) : @database[:takes].insert(numbered(take))
            lay_files(id, files)
            @changes.say("takes", show: known ? known[:show_id] : take[:show_id], id: id)
            id
          end
        end

        def written_over(id, take)
          @database[:takes].where(id: id).update(take.except(:uid, :show_id, :number, :origin))
          @database[:take_files].where(take_id: id).delete
          id
        end

        def told(id)
          @database.transaction do
            show_id = @database[:takes].where(id: id).get(:show_id)
            @changes.say("takes", show: show_id, id: id)
            yield @database[:takes].where(id: id)
          end
        end

        def data(take, files)
          log = take[:log].to_h
          take.slice(*COLUMNS).merge(marks: log["marks"] || [], breaks: log["breaks"] || [], losses: log["losses"] || [], patches: log["patches"] || [],
            faults: log["faults"] || [], files: files.map { |file| file.slice(*FILE_COLUMNS).merge(report: file[:report].to_h, was: file[:was].to_h) })
        end

        # A number that another take of the show has by now is passed over.
        def numbered(take)
          taken = @database[:takes].where(show_id: take[:show_id], number: take[:number]).get(:id)
          taken ? take.merge(number: next_number(take[:show_id])) : take
        end

        def unchanged?(known, take)
          take.except(:log, :show_id, :number, :origin).all? { |column, value|
            known[column] == value
          } && JSON.parse(JSON.generate(known[:log].to_h)) == JSON.parse(JSON.generate(take[:log]))
        end

        def lay_files(id, files)
          json = ->(file, name) { Sequel.pg_jsonb(file.fetch(name, {})) }
          @database[:take_files].multi_insert(files.map { |file| file.merge(take_id: id, report: json[file, :report], was: json[file, :was]) })
        end
      end
    end
  end
end
