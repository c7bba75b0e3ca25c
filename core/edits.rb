# frozen_string_literal: true

module Loomshuttle
  # Edits are small values, each with the same four methods:
  #
  #   apply(show)    => a changed Show, or a Refusal that says why not
  #   to_data, Edits.from_h(data)  plain data there and back
  #
  # Undo, history and the interface's commands all come from that one shape.
  module Edits
    module_function

    # @return [Hash{String => Class}] every kind of edit
    def kinds = @kinds ||= constants.map { |name| const_get(name) }.select { |one| one.respond_to?(:kind) }.to_h { |one| [one.kind, one] }.sort.to_h.freeze

    # @param hash [Hash] string keys, "kind" and that kind's own fields
    # @raise [BadInput] for an unknown kind, or with every field that is missing or of another type
    def from_h(hash, at: "edit", kinds: self.kinds)
      kind = hash.is_a?(Hash) ? hash["kind"] : nil
      made = kinds[kind] or raise BadInput.new(field: "#{at}.kind", value: kind, allowed: "one of #{kinds.keys.sort.join(", ")}")
      made.from_h(hash, at: at)
    end

    # An edit that somebody asks for: one that an engineer can make, all the way down.
    #
    # @raise [BadInput]
    def from_outside(hash, at: "edit")
      edits = (hash.is_a?(Hash) && hash["kind"] == "group" && hash["edits"].is_a?(Array)) ? hash["edits"] : []
      edits.each_with_index { |edit, index| from_outside(edit, at: "#{at}.edits/#{index}") }
      from_h(hash, at: at, kinds: outside)
    end

    # @return [Hash{String => Class}] the kinds that may come from outside
    def outside = @outside ||= kinds.reject { |_, made| made.inside? }.freeze

    # @return [Hash] JSON Schemas by name as they stand in api/openapi.yaml
    def schemas
      made = outside.sort.to_h { |kind, one| ["Edit#{kind.split("_").map(&:capitalize).join}", one.schema] }
      {"Edit" => {"oneOf" => made.keys.map { |name| {"$ref" => "#/components/schemas/#{name}"} }}, **made}
    end

    # Checks that what a slot takes is a place of the show.
    #
    # @return [Refusal, nil]
    def refuse_source(show, from_id)
      return nil if show.rig.named?(from_id) || (from_id.start_with?("songs/") && Signal::Trace.known?(show, from_id))

      Refusal.new(field: "from",
        value: from_id,
        allowed: "a place of this rig, a role of its songs or a mix of them",
        why: "There is no #{from_id} to take a signal from.")
    end

    # Checks that an id names a slot of the patch.
    #
    # @return [Refusal, nil]
    def refuse_slot(show, slot_id)
      return nil if show.rig.field_of(slot_id) && show.rig.named?(slot_id)

      Refusal.new(field: "slot", value: slot_id, allowed: "a slot of a field of this rig",
        why: "There is no #{slot_id} to patch in this rig.")
    end
  end
end
