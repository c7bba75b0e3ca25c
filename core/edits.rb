# frozen_string_literal: true

module Loomshuttle
  # Edits are small values, each with the same four methods:
  #
  #   apply(show)    => a changed Show, or a Refusal that says why not
  #   inverse(show)  => the edit that undoes it, asked of the show before it
  #   to_data, Edits.from_h(data)  plain data there and back
  #
  # Undo, history and the interface's commands all come from that one shape.
  module Edits
    KINDS = {
      "connect" => "Connect", "clear" => "Clear", "run" => "Run", "open_block" => "OpenBlock", "restore" => "Restore",
      "plug" => "Plug", "send" => "SetSend", "split" => "Split", "arm" => "Arm", "rename" => "Rename",
      "device_rate" => "DeviceRate", "accept" => "Accept", "remember" => "Remember", "group" => "Group"
    }.freeze
    private_constant :KINDS

    module_function

    # @param hash [Hash] string keys, "kind" and that kind's own fields
    # @raise [BadInput] for an unknown kind or a missing field
    def from_h(hash)
      kind = hash.is_a?(Hash) ? hash["kind"] : nil
      name = KINDS[kind] or raise BadInput.new(field: "edit.kind", value: kind, allowed: "one of #{KINDS.keys.join(", ")}")
      const_get(name).from_h(hash)
    rescue KeyError => e
      raise BadInput.new(field: "edit.#{e.key}", value: nil, allowed: "#{kind} needs it")
    end

    def kind_of(edit) = KINDS.key(edit.class.name.split("::").last)

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
