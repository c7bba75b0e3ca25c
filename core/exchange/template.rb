# frozen_string_literal: true

module Loomshuttle
  module Exchange
    # A rig with its patch, without the show's names: where another show begins.
    module Template
      module_function

      # @return [Show] the same gear and patch; rows, tracks and mixes without names, no
      #   songs, scenes, notes or findings that were left on purpose
      def of(show)
        rows = show.rows.transform_values { |row|
          row.with(name: "Input #{row.number}",
            short: "",
            mic: "",
            stand: "",
            notes: "",
            group: "",
            phantom: "no")
        }
        tracks = show.tracks.transform_values { |track| track.with(name: "Track #{track.number}", armed: false) }
        used = (show.patch.slots.values.map(&:from) + show.mixes.values.flat_map { |mix| mix.members.keys }).to_set
        roles = show.roles.select { |name, role| role.hidden || used.include?(role.endpoint) || name == Show::CLICK_ROLE }
        show.with(name: "Template",
          venue: "",
          date: "",
          rows: rows.freeze,
          tracks: tracks.freeze,
          roles: roles.freeze,
          set_list: {}.freeze,
          library: {}.freeze,
          names: {}.freeze,
          scenes: {}.freeze,
          accepted: {}.freeze,
          landed: {}.freeze,
          swung: Patch::Swung.new,
          patch: show.patch.with(powered: Set.new.freeze))
      end

      # @return [Show] gear, sources and patch alone: all that a simulated stage needs
      def staged(show) = show.with(set_list: {}.freeze, library: {}.freeze, scenes: {}.freeze, accepted: {}.freeze, swung: Patch::Swung.new)

      # @return [Show]
      def start(template, name:, venue: "", date: "") = template.with(name: name, venue: venue, date: date)
    end
  end
end
