# frozen_string_literal: true

module Loomshuttle
  module Screens
    # Leads from an empty show to one that can be recorded: what is missing next, and edits that do it in one
    # step. Everything can be done by hand as well.
    #
    #   Guide.of(show)[:next]   # => {key: "gear", words: "...", offers: [{label: "...", edit: {...}}]}
    module Guide
      # Gear that goes together, by profiles.
      RIGS = [%w[desk-32 stage-box-32x16 recording-computer], %w[desk-32-compact stage-box-16x8 recording-computer],
        %w[desk-48 stage-box-32x16 recording-computer], %w[rack-20 recording-computer], %w[rack-16 recording-computer]].freeze
      ROWS = [8, 16, 24, 32, 48].freeze
      private_constant :RIGS, :ROWS

      module_function

      # @return [Hash] steps: [{key, title, done}], next: {key, words, offers}, nil where nothing is missing
      def of(show)
        steps = [["gear", "Gear", gear?(show)], ["rows", "Input list", show.rows.any?], ["through", "Patched to tracks", show.tracks.any? { |_, track| show.patch.slots[track.place] }]]
        missing = steps.find { |_, _, done| !done }&.first
        {steps: steps.map { |key, title, done| {key: key, title: title, done: done} }, next: missing && {key: missing, **public_send(missing, show)}}
      end

      def gear?(show) = %w[desk computer].all? { |kind| show.rig.all_of(kind).any? }

      def gear(show)
        rigs = RIGS.select { |names| (names - show.profiles.keys).empty? }
        offers = rigs.map { |names| offer(Words::Runs.list(names.map { |name| show.profiles[name].label }), Edits::Furnish.new(profiles: names)) }
        {words: "First the gear: a desk, what the microphones are plugged in at, and the recording computer, joined by their usual cables.", offers: offers}
      end

      # So many rows as there are sockets for, each plugged in at the socket of its number.
      def rows(show)
        boxes = show.rig.all_of("box")
        boxes = show.rig.all_of("desk").first(1) if boxes.empty?
        sockets = boxes.flat_map { |box| show.places(box, "mic").select { |id| show.rig.present?(id) } }
        most = [sockets.size, *show.rig.all_of("desk").map { |desk| show.places(desk, "channel").size }].min
        counts = (ROWS.select { |count| count < most } + [most]).uniq.last(4).reverse
        offers = counts.map { |count| offer("#{count} rows, plugged in one to one", Edits::Group.new(edits: [Edits::SetRows.new(rows: numbered(count)), *plugged(sockets, count)])) }
        {words: "Then the input list: so many rows to begin with, named when you know what they are. Or write it as a sheet, or bring it in as CSV, under Patch.", offers: offers}
      end

      def numbered(count) = (1..count).to_h { |n| ["list/row/#{n}", {"name" => "Input #{n}"}] }
      def plugged(sockets, count) = sockets.first(count).each.with_index(1).map { |socket, n| Edits::Plug.new(row: "list/row/#{n}", socket: socket) }

      def through(show)
        desk, computer = show.rig.first_of("desk"), show.rig.first_of("computer")
        offers = [offer("Run every row through to a track", Edits::RunThrough.new(desk: desk.id, computer: computer.id))]
        {words: "Last the patch: each row to the channel, the card lane and the track of its number, as clean as #{desk.name} offers it.", offers: offers}
      end

      def offer(label, edit) = {label: label, edit: edit.to_data}
      private_class_method :gear?, :numbered, :plugged, :offer
    end
  end
end
