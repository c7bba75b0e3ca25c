# frozen_string_literal: true

require "json_schemer"

module Loomshuttle
  module Edits
    # What fields of edits can be: in words, as a JSON Schema, and as values there and back.
    module Types
      ID_LENGTH_MAX = 200
      TEXT_LENGTH_MAX = 2000
      # Far beyond any number, level, time or length that an edit names.
      NUMBER_MAX = 1_000_000
      SAME = ->(value) { value }
      private_constant :ID_LENGTH_MAX, :TEXT_LENGTH_MAX, :NUMBER_MAX, :SAME

      # words   what it is
      # schema  JSON Schema, as api/openapi.yaml has it too
      Type = Value.of(:words, :schema, read: SAME, write: SAME) do
        include Value::Memo

        def takes?(value) = once(:schemer) { JSONSchemer.schema(checked) }.valid?(value)

        # Edits within edits are checked one by one, each by its own fields.
        def checked = JSON.parse(JSON.generate(schema).gsub('{"$ref":"#/components/schemas/Edit"}', '{"type":"object"}'))
      end

      module_function

      # @return [Hash] the schema, or null
      def or_null(schema)
        schema["type"].is_a?(String) ? schema.merge("type" => [schema["type"], "null"]) : {"anyOf" => [schema, {"type" => "null"}]}
      end

      def map(schema) = {"type" => "object", "additionalProperties" => schema}
      def list(schema) = {"type" => "array", "items" => schema}
      def object(required = [], **properties) = {"type" => "object", "required" => required, "additionalProperties" => false, "properties" => properties.transform_keys(&:to_s)}
      def picks(values) = values.transform_values { |pick| pick && Patch::Pick.from_h(pick) }.freeze

      ID = {"type" => "string", "minLength" => 1, "maxLength" => ID_LENGTH_MAX}.freeze
      TEXT = {"type" => "string", "maxLength" => TEXT_LENGTH_MAX}.freeze
      NUMBER = {"type" => "number", "minimum" => -NUMBER_MAX, "maximum" => NUMBER_MAX}.freeze
      WHOLE = NUMBER.merge("type" => "integer").freeze
      IDS = list(ID).freeze
      PICK = object(from: or_null(ID), tap: or_null(ID), delay_ms: or_null(NUMBER)).freeze
      KEPT = object(["from"], from: ID, tap: or_null(ID), delay_ms: or_null(NUMBER)).freeze
      PATCH = object(slots: map(KEPT), plugs: map(ID), sends: map(map(object(tap: or_null(ID), level_db: or_null(NUMBER)))),
        opened: IDS, splits: IDS, turned: IDS, powered: IDS).freeze
      ACCEPTANCE = object(%w[who at digest], who: TEXT, at: TEXT, digest: TEXT, reason: or_null(TEXT)).freeze
      private_constant :ID, :TEXT, :NUMBER, :WHOLE, :IDS, :PICK, :KEPT, :PATCH, :ACCEPTANCE

      ALL = {
        id: Type.new(words: "an id", schema: ID),
        ids: Type.new(words: "a list of ids", schema: IDS, read: ->(ids) { ids.freeze }),
        text: Type.new(words: "a text", schema: TEXT),
        flag: Type.new(words: "true or false", schema: {"type" => "boolean"}),
        number: Type.new(words: "a number", schema: NUMBER, read: :to_f.to_proc),
        length_m: Type.new(words: "a number of metres", schema: NUMBER),
        whole: Type.new(words: "a whole number", schema: WHOLE, read: :to_i.to_proc),
        takes: Type.new(words: "an object of slots to {from, tap, delay_ms} or null", schema: map(or_null(PICK))),
        kept: Type.new(words: "an object of slots to {from, tap, delay_ms} or null, each with a from", schema: map(or_null(KEPT)),
          read: ->(slots) { picks(slots) }, write: ->(slots) { slots.transform_values { |pick| pick&.to_h } }),
        cells: Type.new(words: "an object of rows to their columns, or null", schema: map(or_null(map({"type" => %w[string number boolean null]})))),
        words: Type.new(words: "an object of names to texts", schema: map(ID)),
        numbers: Type.new(words: "an object of names to whole numbers", schema: map({"type" => "integer"})),
        levels: Type.new(words: "an object of names to levels in dB", schema: map(NUMBER), read: ->(levels) { levels.transform_values(&:to_f).freeze }),
        parts: Type.new(words: "an object of #{Show::Parts::NAMES.join(", ")}", schema: {"type" => "object", "propertyNames" => {"enum" => Show::Parts::NAMES}}),
        object: Type.new(words: "an object", schema: {"type" => "object", "additionalProperties" => true}),
        acceptance: Type.new(words: "an object of who, at, digest, reason", schema: ACCEPTANCE,
          read: ->(given) { Show::Acceptance.new(**given.transform_keys(&:to_sym)) }, write: ->(acceptance) { acceptance&.to_h }),
        scene: Type.new(words: "a scene's name or a patch", schema: {"anyOf" => [TEXT, PATCH]},
          read: ->(given) { given.is_a?(Hash) ? Show::Parts.patch(given) : given }, write: ->(scene) { scene.is_a?(String) ? scene : Show::Parts.patch_data(scene) }),
        edits: Type.new(words: "a list of edits", schema: list({"$ref" => "#/components/schemas/Edit"}),
          read: ->(edits) { edits.map { |edit| Edits.from_h(edit) } }, write: ->(edits) { edits.map(&:to_data) })
      }.freeze
      private_class_method :map, :list, :object, :picks
    end
  end
end
