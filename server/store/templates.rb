# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Rigs with their patch, without a show's names, to begin other shows from.
      class Templates
        def initialize(database, codec)
          @database = database
          @codec = codec
        end

        # @return [Array<Hash>] {id:, name:}
        def list = @database[:templates].order(:name).select(:id, :name).all

        # A template of the same name is replaced.
        def keep(name, template)
          document = Sequel.pg_jsonb(Exchange::ShowFile.data(template))
          @database[:templates].insert_conflict(target: :name, update: {document: document}).insert(name: name, document: document)
        end

        # @return [Show]
        # @raise [BadInput]
        def find(id)
          row = @database[:templates].where(id: id).first or raise BadInput.new(field: "template", value: id, allowed: "a template that is there")
          @codec.build(JSON.parse(JSON.generate(row[:document])))
        end

        def delete(id) = @database[:templates].where(id: id).delete
      end
    end
  end
end
