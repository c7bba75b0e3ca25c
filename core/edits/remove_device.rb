# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Takes a device out of the rig, with its cables and everything that is patched to or
    # from it, in the present patch and in every scene.
    RemoveDevice = Edit.of("remove_device", id: :id) do
      def apply(show)
        unless show.rig.devices.key?(id)
          return Refusal.new(field: "id", value: id, allowed: show.rig.devices.keys.join(", "), why: "This rig has no device #{id}.")
        end

        Show::Parts.without(show) { |name| name == id || name.start_with?("#{id}/") }
      end
    end
  end
end
