# frozen_string_literal: true

module Loomshuttle
  module Screens
    # What one mix is made of, as a table: a line for every channel or mix that can be sent to
    # it, with the level and the tap of its send.
    #
    #   SendTable.of(show, "desk/bus/1")   # => {mix:, label:, lines: [{id:, label:, carries:, level_db:, tap:, taps:}]}
    module SendTable
      MIXES = %w[main bus matrix].freeze

      module_function

      # @return [Array<Hash>] {name:, label:} of every mix of every desk
      def mixes(show)
        show.rig.all_of("desk").flat_map { |desk| (MIXES & desk.profile.mixes).flat_map { |family| show.places(desk, family) } }.map do |id|
          {name: id, label: show.label(id)}
        end
      end

      # @param mix [String] an endpoint
      # @return [Hash] plain data; level_db is nil where nothing is sent
      # @raise [BadInput] for what is no mix of this rig
      def of(show, mix)
        place = show.rig.place(mix)
        unless place && MIXES.include?(place.kind)
          raise BadInput.new(field: "mix", value: mix, allowed: "a mix of this rig, as in desk/bus/1")
        end

        families = place.device.profile.assigns.select { |_, mixes| mixes.include?(place.family.name) }.keys
        {mix: mix,
         label: show.label(mix),
         lines: families.flat_map { |family| show.places(place.device, family) }.map { |id| line(show, id, mix) }}
      end

      def line(show, id, mix)
        send = show.patch.send_of(id, mix)
        {id: id,
         label: show.label(id),
         carries: carries(show, id),
         level_db: send&.level_db,
         tap: send&.tap,
         taps: show.rig.family_of(id).taps}
      end

      # The source in a channel; a mix is called by its own name.
      def carries(show, id)
        origin = Signal::Sources.row_behind(show, id)
        return show.rows[origin].name if show.rows.key?(origin)

        origin.start_with?("songs/") ? show.label(origin) : ""
      end
      private_class_method :line, :carries
    end
  end
end
