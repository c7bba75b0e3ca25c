# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Shows with their versions and their history. Every change happens in one
      # transaction that holds the show's row, so that two browsers never mix.
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

        # Changes a show under its version; what else is written in the block is written with it
        # or not at all.
        #
        # @param version [Integer, nil] the only one that the change is for; nil takes any
        # @yield [Show, Integer] and its version; answers the changed show, or a Refusal that
        #   leaves all as it was
        # @return [Kept, Refusal]
        # @raise [Outdated]
        def change(id, version, &)
          written(id, version, {}, &)
        end

        # Puts another show in place of one: what was made for the one before does not go with it.
        #
        # @return [Kept]
        def replace(id, &)
          written(id, nil, {whole_since: Sequel[:version] + 1}, &)
        end

        # @return [Integer] the version from which on it is one show
        def whole_since(id) = @database[:shows].where(id: id).get(:whole_since)

        private

        def written(id, version, more)
          @database.transaction do
            kept = locked(id)
            raise Outdated.new(version, kept.version) if version && kept.version != version

            result = yield kept.show, kept.version
            return result if result.is_a?(Refusal)

            @database[:shows].where(id: id).update(version: kept.version + 1, document: document(result), **more)
            Kept.new(id: id, version: kept.version + 1, show: result)
          end.tap { |kept| @cache[id] = kept }
        end

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

        def document(show) = Sequel.pg_jsonb(Exchange::ShowFile.data(show))
      end
    end
  end
end
