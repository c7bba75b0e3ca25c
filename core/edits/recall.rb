# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Brings a scene back into the present patch, or what the desk says that it has: all of
    # it, or only some fields ("desk/channel", "plugs", "sends" ...). Rows that are marked
    # safe keep their socket, and every slot that carries them stays as it is.
    #
    # scene  a scene's name, or a Patch::Scene
    # fields nil for all
    Recall = Edit.of("recall", scene: :scene, fields: [:ids, nil]) do
      def apply(show)
        wanted = scene.is_a?(String) ? show.scenes[scene] : scene
        unless wanted
          return Refusal.new(field: "scene", value: scene, allowed: show.scenes.keys.join(", "), why: "There is no scene \"#{scene}\".")
        end

        unknown = fields&.find { |name| !Patch::Fields.of(show).include?(name) }
        if unknown
          return Refusal.new(field: "fields",
            value: unknown,
            allowed: Patch::Fields.of(show).join(", "),
            why: "There is no field \"#{unknown}\" to recall.")
        end

        show.with(patch: Compare::Blend.of(show, there(show, wanted), fields))
      end

      private

      def sendable?(show, from, mix, send) = SetSend.new(channel: from, mix: mix, tap: send.tap, level_db: send.level_db).apply(show).is_a?(Show)

      # A scene may name places that this rig has lost since; what comes from a desk, what no rig has.
      # What could not be laid by hand is left out.
      def there(show, patch)
        slots = patch.slots.select { |slot, pick| show.rig.place(slot)&.field && Sources.refuse(show, slot, pick.from, pick.tap, pick.delay_ms).nil? }
        patch.with(slots: slots.freeze,
          plugs: patch.plugs.select { |row, socket| show.rows.key?(row) && Plug.new(row: row, socket: socket).apply(show).is_a?(Show) }.freeze,
          sends: patch.sends.to_h { |from, mixes| [from, mixes.select { |mix, send| sendable?(show, from, mix, send) }.freeze] }.reject { |_, mixes| mixes.empty? }.freeze,
          opened: patch.opened.select { |id| show.rig.place(id)&.field&.blocks? }.to_set.freeze,
          turned: patch.turned.select { |id| show.rig.place(id) || show.rig.devices.key?(id) }.to_set.freeze,
          **%i[splits powered].to_h { |flag| [flag, patch.public_send(flag).select { |id| show.rig.present?(id) }.to_set.freeze] })
      end
    end
  end
end
