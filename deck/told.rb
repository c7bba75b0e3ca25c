# frozen_string_literal: true

module Loomshuttle
  module Deck
    # What whoever subscribed is told of what plays, or stands (PlayingStatus of the contract).
    module Told
      module_function

      # @param program [Render::Program]
      # @param request [Hash] DeckPlay that it was made of, as far as it is known
      # @param player [Player]
      # @param position [Integer] that sounds, at the device frame
      def playing(program, request, player, position, frame)
        {label: program.label, key: program.key, length_frames: program.length_frames, repeat: program.endless?,
         loop: program.loop_frames && [program.loop_frames.begin, program.loop_frames.end], **asked(request), paused: false,
         position_frames: position, frame: frame, armed: player.armed, armed_percent: player.armed_tag&.fetch("percent"), hushed: player.hushed?, fading: player.fading?,
         place: program.place(position), peak_dbfs: player.peaks_dbfs, overs: player.overs, late_blocks: player.late, failed: player.failed}
      end

      # @param held [Standing::Held]
      def standing(held)
        loop = held.request["loop"]&.then { |from, to| [from, to || held.length_frames] }
        {label: held.label, key: held.key, length_frames: held.length_frames, repeat: !loop.nil?, loop: loop, **asked(held.request), paused: true,
         position_frames: held.position, place: held.ready&.program&.place(held.position), peak_dbfs: [], overs: {}, late_blocks: 0, failed: {}}
      end

      # What two who operate see the same.
      def asked(request)
        {onward: request.fetch("onward", false), percent: request["percent"], gains_db: request.fetch("gains_db", {}), muted: request.fetch("muted", []),
         solo: request.dig("solo", "key"), solo_lanes: request.dig("solo", "lanes") || []}
      end
      private_class_method :asked
    end
  end
end
