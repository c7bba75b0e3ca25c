# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # The waveforms of a take's tracks, as they were built while it was recorded.
      class Overview
        POINTS_MAX = 4000
        private_constant :POINTS_MAX

        def initialize(context)
          @context = context
        end

        # @param points [Integer] values a track
        # @param from, to [Integer, nil] frames of the take
        # @return [Hash] frames, tracks: [{track, name, points: [[low, high], nil, ...]}], 16 bit
        def call(id, points, from, to)
          take = @context.takes.find(@context.show_id, id)
          log = @context.keeper.log_of(take[:folder]) or raise BadInput.new(field: "take", value: take[:name], allowed: "a take that was recorded here; others have no overview yet")
          range = ((from || 0)...[to || log.frames, (from || 0) + 1].max)
          {frames: log.frames, from: range.begin, to: range.end, tracks: tracks(log, take[:folder], range, points.clamp(1, POINTS_MAX))}
        end

        private

        def tracks(log, folder, range, points)
          sides = log.plan.tracks.flat_map { |track| track.sides.empty? ? [{track: track.key, name: track.name}] : track.sides }
          path = File.join(@context.takes_folder, folder, "take.overview")
          bytes = File.file?(path) ? File.binread(path) : ""
          pictures = Loomshuttle::Capture::Picture.of(bytes, log.plan.tracks.sum { |track|
            track.lanes.size
          }, (range.begin + log.start_frame)...(range.end + log.start_frame), points)
          sides.zip(pictures).map { |side, picture| {track: side[:track], name: log.names.fetch(side[:track], side[:name]), points: picture} }
        end
      end
    end
  end
end
