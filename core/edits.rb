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
      "connect" => "Connect",
      "clear" => "Clear",
      "run" => "Run",
      "open_block" => "OpenBlock",
      "restore" => "Restore",
      "plug" => "Plug",
      "send" => "SetSend",
      "split" => "Split",
      "arm" => "Arm",
      "rename" => "Rename",
      "device_rate" => "DeviceRate",
      "accept" => "Accept",
      "remember" => "Remember",
      "group" => "Group",
      "put" => "Put",
      "device" => "SetDevice",
      "remove_device" => "RemoveDevice",
      "cable" => "SetCable",
      "remove_cable" => "RemoveCable",
      "profile" => "SetProfile",
      "show_rate" => "ShowRate",
      "turn" => "Turn",
      "power" => "Power",
      "rows" => "SetRows",
      "move_rows" => "MoveRows",
      "shift" => "Shift",
      "reverse" => "Reverse",
      "swap" => "Swap",
      "copy_layout" => "CopyLayout",
      "spread" => "Spread",
      "retake" => "Retake",
      "scene" => "SaveScene",
      "recall" => "Recall",
      "land" => "Land",
      "lay" => "Lay",
      "record_taps" => "RecordTaps",
      "make_tracks" => "MakeTracks",
      "record_mix" => "RecordMix"
    }.freeze
    private_constant :KINDS

    module_function

    # @param hash [Hash] string keys, "kind" and that kind's own fields
    # @raise [BadInput] for an unknown kind, or a field that is missing or of another type
    def from_h(hash)
      kind = hash.is_a?(Hash) ? hash["kind"] : nil
      name = KINDS[kind] or raise BadInput.new(field: "edit.kind", value: kind, allowed: "one of #{KINDS.keys.join(", ")}")
      Shape.check(kind, hash)
      const_get(name).from_h(hash)
    end

    def kind_of(edit) = KINDS.key(edit.class.name.split("::").last)

    # Checks that what a slot takes is a place of the show.
    #
    # @return [Refusal, nil]
    def refuse_source(show, from_id)
      return nil if show.rig.named?(from_id) || show.roles.values.any? { |role| role.endpoint == from_id }

      Refusal.new(field: "from",
        value: from_id,
        allowed: "a place of this rig, or a role of its songs",
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
