# frozen_string_literal: true

module Loomshuttle
  module Edits
    # What an edit is made of, told once: from it come the value, its plain data there and back,
    # the check of what comes in, and the shape in api/openapi.yaml.
    #
    #   Shift = Edit.of("shift", slots: :ids, by: :whole) do
    #     def apply(show) = ...
    #   end
    #   Shift.from_h({"kind" => "shift", "slots" => 5})
    #     # raises BadInput: edit.slots: 5 is not usable; shift takes a list of ids there; edit.by: ...
    #
    # A field is a type of Types, or a type and what it is where it is left out; with :kept it stays
    # as it was, and null means nothing.
    module Edit
      # @param kind [String] what it is called in data
      # @param inside [Boolean] made by the product only, never taken from outside
      def self.of(kind, inside: false, **fields, &body)
        described = fields.map { |name, (type, default)| Field.new(name: name.to_s, type: Types::ALL.fetch(type), required: !fields[name].is_a?(Array), default: default) }
        required, optional = described.partition(&:required)
        Value.of(*required.map { |field| field.name.to_sym }, **optional.to_h { |field| [field.name.to_sym, field.default] }) do
          define_singleton_method(:kind) { kind }
          define_singleton_method(:inside?) { inside }
          define_singleton_method(:fields) { described }
          extend Described
          include Written

          class_eval(&body) if body
        end
      end

      Field = Value.of(:name, :type, :required, :default) do
        def kept? = default == :kept
        def missing?(hash) = kept? ? !hash.key?(name) : hash[name].nil?

        # @return [Object] the value's member
        def read(hash)
          return default if missing?(hash)

          hash[name].nil? ? nil : type.read.call(hash[name])
        end

        # @return [BadInput, nil]
        def fault(kind, at, hash)
          value = hash[name]
          return if (!required && missing?(hash)) || (kept? && value.nil?) || type.takes?(value)

          BadInput.new(field: "#{at}.#{name}", value: value, allowed: value.nil? ? "#{kind} needs it: #{type.words}" : "#{kind} takes #{type.words} there")
        end
      end

      # Of an edit's class.
      module Described
        # @param hash [Hash] string keys
        # @param at [String] where it stands in what came in
        # @raise [BadInput] with every field that is missing, unknown or of another type
        def from_h(hash, at: "edit")
          unknown = hash.keys - ["kind", *fields.map(&:name)]
          faults = fields.filter_map { |field| field.fault(kind, at, hash) } +
            unknown.map { |name| BadInput.new(field: "#{at}.#{name}", value: hash[name], allowed: "#{kind} has #{fields.map(&:name).join(", ")}") }
          raise BadInput.together(faults) if faults.any?

          new(**fields.to_h { |field| [field.name.to_sym, field.read(hash)] })
        end

        # @return [Hash] as a JSON Schema of OpenAPI
        def schema
          properties = fields.to_h { |field| [field.name, field.required ? field.type.schema : Types.or_null(field.type.schema)] }
          {"type" => "object", "required" => ["kind", *fields.select(&:required).map(&:name)], "additionalProperties" => false,
           "properties" => {"kind" => {"type" => "string", "enum" => [kind]}, **properties}}
        end
      end

      # Of an edit.
      module Written
        # @return [Hash] plain data
        def to_data
          written = self.class.fields.reject { |field| self[field.name] == :kept }
          {kind: self.class.kind, **written.to_h { |field| [field.name.to_sym, field.type.write.call(self[field.name])] }}
        end
      end
      private_constant :Described, :Written
    end
  end
end
