# frozen_string_literal: true

module Loomshuttle
  module Signal
    # What the desk's channels listen to.
    module Feed
      module_function

      # @return [Symbol] :stage, :recorder, :playback (a role of a song) or :nothing
      def of(show, channel_id)
        origin, track = Sources.behind(show, channel_id)
        return :recorder if track
        return :playback if origin.start_with?("songs/")

        (origin == channel_id) ? :nothing : :stage
      end

      # Feeds of the channels that a source of the input list arrives at, now or before a
      # swing.
      #
      # @return [Hash{String => Symbol}]
      def of_channels(show) = Sources.channels(show).to_h { |channel, _row| [channel, of(show, channel)] }

      # The feed of the desk as a whole, as the strip shows it: Recorder as soon as one
      # channel listens to it, so that nobody can miss it.
      #
      # @return [Symbol] :stage or :recorder
      def of_desk(show) = of_channels(show).value?(:recorder) ? :recorder : :stage
    end
  end
end
