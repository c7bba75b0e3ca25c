# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Where roles without an output could go.
    module FreeLanes
      module_function

      # Each on the lanes where it usually lies, else on free ones, two where it is a pair: first on those that a channel takes.
      #
      # @return [Mend, nil] nil where there are too few
      def lay(show, names)
        free = free_lanes(show)
        laid = names.map { |name| [name, taken(free, show.roles[name] || Show::Role.new(name: name))] }
        return nil if laid.any? { |_, lanes| lanes.nil? }

        Mend.new(label: "Mend: lay #{Words::Runs.list(laid.map { |name, lanes| "#{name} on lane #{Words::Runs.text(lanes.map { |id| Endpoint.number(id) })}" })}",
          edits: laid.flat_map { |name, lanes| on(lanes, Endpoint.id("songs", "role", name)) })
      end

      # @return [Array<Edits::Connect>]
      def on(lanes, source) = lanes.map { |slot| Edits::Connect.new(slot: slot, from: source) }

      # Takes out of free lanes those of a role.
      #
      # @return [Array<String>, nil]
      def taken(free, role)
        usual = role.usual.filter_map { |number| free.find { |id| Endpoint.number(id) == number } }
        lanes = (usual.size == role.lane_count) ? usual : free.first(role.lane_count)
        return nil if lanes.size < role.lane_count

        lanes.each { |id| free.delete(id) }
      end

      def lane_count(show, names) = names.sum { |name| show.roles[name]&.lane_count || 1 }

      # @return [Array<String>] those that a channel takes first
      def free_lanes(show)
        excepted = show.set_list.values.flat_map { |listed| listed.roles.values.flat_map { |terms| terms.lanes.to_a } }
        lanes = show.rig.places.values.select { |place| place.family.name == "lane-out" && place.present? && place.field&.takes?("role") && !show.patch.slots.key?(place.id) }
        (lanes.map(&:id) - excepted).partition { |id| show.graph.onward(id).any? { |edge| show.rig.kind_of(edge.to) == "channel" } }.flatten(1)
      end
    end
  end
end
