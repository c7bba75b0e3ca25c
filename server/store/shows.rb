# frozen_string_literal: true

require "securerandom"

module Loomshuttle
  module Server
    module Store
      # Shows with their versions. Every change happens in one transaction that holds the show's row, so
      # that two browsers never mix, and is told to everybody when it is kept.
      class Shows
        # A show as it is at one version.
        Kept = Value.of(:id, :version, :show)

        # A change that was made for an older version, and does not go with what came since.
        class Outdated < StandardError
          attr_reader :version, :edits

          # @param version [Integer] the one that it was made for
          # @param edits [Array<Hash>] {label:, who:, undone:} of others that it does not go with, newest first
          def initialize(version, now, edits = [])
            @version = version
            @edits = edits
            super("the show is at version #{now} by now, the change was made for #{version}")
          end
        end

        # Shows that are held ready; the others are read when somebody asks.
        READY = 16
        UID = /\A\h{8}(-\h{4}){3}-\h{12}\z/
        private_constant :READY, :UID

        # @param songs [Songs] what shows know of the library comes from there
        def initialize(database, codec, changes = Changes.new(database), songs = Songs.new(database, changes))
          @database, @codec, @changes, @songs = database, codec, changes, songs
          @cache = {}
        end

        # Songs and roles that the show brings become the library's.
        #
        # @return [Integer] id
        def create(show)
          uid = SecureRandom.uuid
          @database.transaction do
            show = @songs.adopt(show)
            id = @database[:shows].insert(uid: uid, folder: "#{Loomshuttle::Capture::FileName.folder(show.name)}-#{uid[0, 8]}", document: document(show))
            @changes.say("shows", id: id)
            id
          end
        end

        # @raise [BadInput] where there is no such show
        def there!(id)
          raise missing(id) if there(id).empty?
        end

        # @return [Kept]
        # @raise [BadInput]
        def load(id)
          state = state(there(id)) or raise missing(id)
          ready(id, state) || keep(read(there(id)), state.last)
        end

        # Changes a show under its version; what else is written in the block is written with it
        # or not at all.
        #
        # @param version [Integer, nil] the only one that the change is for; nil takes any
        # @yield [Show, Integer] and its version; answers the changed show, or a Refusal that
        #   leaves all as it was
        # @return [Kept, Refusal]
        # @raise [Outdated]
        def change(id, version)
          library = nil
          @database.transaction do
            kept, library = locked(id)
            raise Outdated.new(version, kept.version) if version && kept.version != version

            result = yield kept.show, kept.version
            return result if result.is_a?(Refusal)

            result = @songs.known(result, result.set_list.keys)
            @database[:shows].where(id: id).update(version: kept.version + 1, document: document(result), changed_at: Sequel::CURRENT_TIMESTAMP)
            @changes.say("show", id: id, version: kept.version + 1)
            Kept.new(id: id, version: kept.version + 1, show: result)
          end.tap { |kept| keep(kept, library) }
        end

        # @return [Hash] string keys: how takes of the show are recorded
        def session(id) = @database[:shows].where(id: id).get(:session).to_h

        def keep_session(id, session)
          @database.transaction do
            @database[:shows].where(id: id).update(session: Sequel.pg_jsonb(session))
            @changes.say("session", id: id)
          end
        end

        # What never changes of a show: its own id, and the folder of its takes.
        #
        # @return [Hash] uid, folder
        def place(id) = @database[:shows].where(id: id).select(:uid, :folder).first

        # Which show a take is of. Journals up to November 2026 knew its number only, those before not even that.
        #
        # @param plan [Capture::TakePlan]
        # @return [Integer, nil] id; nil where that show is not here
        def of_take(plan)
          return (@database[:shows].where(uid: plan.show_uid).get(:id) if plan.show_uid.match?(UID)) if plan.show_uid
          return @database[:shows].where(id: plan.show_id).get(:id) if plan.show_id.positive?

          @database[:shows].order(:id).get(:id)
        end

        private

        def missing(id) = BadInput.new(field: "show", value: id, allowed: "a show that is there")

        # One that is being deleted is not there any more.
        def there(id) = @database[:shows].where(id: id, doomed: false)

        # What a show that is held ready must be of: its version, and the library's.
        def state(row) = row.get([:version, @songs.version_query])

        def ready(id, state) = @cache[id]&.then { |kept, library| kept if [kept.version, library] == state }

        def keep(kept, library)
          @cache.delete(kept.id)
          @cache[kept.id] = [kept, library]
          @cache.shift if @cache.size > READY
          kept
        end

        def read(dataset)
          row = dataset.select(:id, :version, Sequel.cast(:document, String).as(:document)).first
          Kept.new(id: row[:id], version: row[:version], show: @codec.build(@songs.into(JSON.parse(row[:document]), row[:document])))
        end

        # The row is held until the transaction ends; its document is only read again when
        # another process changed it, or the library.
        def locked(id)
          state = state(there(id).for_update) or raise missing(id)
          [ready(id, state) || read(there(id)), state.last]
        end

        # Songs and roles are the library's.
        def document(show) = Sequel.pg_jsonb(Exchange::ShowFile.data(show).except(:songs, :roles))
      end
    end
  end
end
