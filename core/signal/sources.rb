# frozen_string_literal: true

module Loomshuttle
  module Signal
    # Which channel belongs to which source, and over which lane its track comes back.
    module Sources
      module_function

      # @return [Hash{String => String}] channel id => row id, through the recorder too
      def channels(show)
        show.once(:channels) do
          channel_ids(show).filter_map do |channel|
            row = row_behind(show, channel)
            [channel, row] if show.rows.key?(row)
          end.to_h.freeze
        end
      end

      # The channels that a source arrives at, as people say them: a number, with its desk where
      # there are several.
      #
      # @return [Hash{String => Array<String>}] row id => names
      def channel_names(show)
        show.once(:channel_names) do
          several = show.rig.all_of("desk").size > 1
          channels(show).group_by(&:last).transform_values do |pairs|
            pairs.map do |channel, _|
              Endpoint.parse(channel).then { |one| several ? "#{show.rig.devices[one.device].name} #{one.number}" : one.number.to_s }
            end
          end
        end
      end

      # The source that a place carries: behind a track it is the one that the track is
      # meant for, whatever happens to be recorded there.
      #
      # @return [String] a row's id, or wherever else the line begins
      def row_behind(show, id)
        origin, track = behind(show, id)
        (track && show.track_at(track)&.row) || origin
      end

      # Where the line to a place begins, or the nearest track on it.
      #
      # @return [Array(String, String), Array(String, nil)] origin, track
      def behind(show, id) = show.graph.behind(id)

      # @return [Hash{String => String}] channel id => the desk's lane on which the channel's
      #   own track comes back
      def returns(show)
        show.once(:returns) do
          channels(show).filter_map do |channel, row|
            desk = Endpoint.parse(channel).device
            lane = show.tracks_of_row(row).lazy.filter_map { |track| Returns.at_desk(show, track.place, desk) }.first
            [channel, lane] if lane
          end.to_h.freeze
        end
      end

      # @return [String, nil] what the channel takes when it listens to its row's socket
      def stage_source(show, channel)
        row = channels(show)[channel]
        row && show.patch.plugs[row] && Route.into(show, show.patch.plugs[row], channel)
      end

      def channel_ids(show)
        channels = show.rig.ids_of("channel")
        patched = show.patch.slots.keys.select { |id| channels.include?(id) }
        show.turned_channels.empty? ? patched : (patched + show.turned_channels.to_a).uniq
      end
      private_class_method :channel_ids
    end
  end
end
