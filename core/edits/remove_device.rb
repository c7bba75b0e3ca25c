# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Takes a device out of the rig, with its cables and everything that is patched to or
    # from it, in the present patch and in every scene.
    RemoveDevice = Value.of(:id) do
      include Reversed

      def self.from_h(hash) = new(id: hash.fetch("id"))
      def to_data = {kind: "remove_device", id: id}

      def apply(show)
        unless show.rig.devices.key?(id)
          return Refusal.new(field: "id", value: id, allowed: show.rig.devices.keys.join(", "), why: "This rig has no device #{id}.")
        end

        rig = show.rig.with(devices: show.rig.devices.except(id).freeze, cables: show.rig.cables.reject { |cable|
          cable.ends.any? do |name|
            name.start_with?("#{id}/")
          end
        }.freeze)
        show.with(rig: rig, patch: without(show.patch), scenes: show.scenes.transform_values { |scene| without(scene) }.freeze,
          tracks: show.tracks.reject { |track, _| mine?(track) }.freeze, names: show.names.reject { |place, _| mine?(place) }.freeze,
          landed: show.landed.reject { |mix, _| mine?(mix) }.freeze, check: check(show.check))
      end

      private

      def mine?(place) = place.start_with?("#{id}/") || place == id

      def without(patch)
        patch.with(slots: patch.slots.reject { |slot, take| mine?(slot) || mine?(take.from) }.freeze,
          plugs: patch.plugs.reject { |_, socket| mine?(socket) }.freeze,
          sends: patch.sends.reject { |from, _| mine?(from) }.freeze,
          **Show::Parts::FLAGS.to_h { |flag| [flag.to_sym, patch.public_send(flag).reject { |place| mine?(place) }.to_set.freeze] })
      end

      def check(state)
        state.with(home: state.home.reject { |slot, take| mine?(slot) || (take && mine?(take.from)) }.freeze,
          **%i[opened keep turned].to_h { |list| [list, state.public_send(list).reject { |place| mine?(place) }.freeze] })
      end
    end
  end
end
