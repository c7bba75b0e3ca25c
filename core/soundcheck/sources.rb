# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # Which channel belongs to which source, and over which lane its track comes back.
    module Sources
      module_function

      # @return [Hash{String => String}] channel id => row id, through the recorder too
      def channels(show)
        channel_ids(show).filter_map do |channel|
          row = row_behind(show, channel)
          [channel, row] if show.rows.key?(row)
        end.to_h
      end

      # The source that a place carries: behind a track it is the one that the track is
      # meant for, whatever happens to be recorded there.
      #
      # @return [String] a row's id, or wherever else the line begins
      def row_behind(show, id)
        line = show.graph.line_back(id)
        track = line.drop(1).find { |place| show.tracks.key?(place) }
        track ? show.tracks[track].row : line.last
      end

      # @return [Hash{String => String}] channel id => the desk's lane on which the channel's
      #   own track comes back
      def returns(show)
        channels(show).filter_map do |channel, row|
          track = show.track_of_row(row)
          lane = track && return_lane(show, track.id, Endpoint.parse(channel).device)
          [channel, lane] if lane
        end.to_h
      end

      # @return [String, nil] what the channel takes when it listens to its row's socket
      def stage_source(show, channel)
        row = channels(show)[channel]
        row && show.patch.plugs[row] && Patch::Route.into(show, show.patch.plugs[row], channel)
      end

      def channel_ids(show) = show.patch.slots.keys.select { |id| show.rig.family_of(id)&.kind == "channel" }

      def return_lane(show, track_id, desk_id)
        outs = show.patch.slots.select { |_, take| take.from == track_id }.keys
        outs.flat_map { |out| show.graph.fixed_onward(out) }.find { |id| Endpoint.parse(id).device == desk_id }
      end
      private_class_method :channel_ids, :return_lane
    end
  end
end
