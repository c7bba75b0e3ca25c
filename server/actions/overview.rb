# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # The waveforms of a take's tracks, as they were built while it was recorded.
      class Overview
        POINTS_MAX = 4000
        private_constant :POINTS_MAX

        # @param takes [Store::Takes]
        # @param keeper [TakesKeeper]
        # @param takes_folder [String]
        def initialize(takes:, keeper:, takes_folder:)
          @takes, @keeper, @takes_folder = takes, keeper, takes_folder
        end

        # @param points [Integer] values a track
        # @param from, to [Integer, nil] frames of the take
        # @return [Hash] frames, tracks: [{track, name, points: [[low, high], nil, ...]}], 16 bit
        def call(show_id, id, points, from, to)
          take = @takes.find(show_id, id)
          log = @keeper.log_of(take[:folder])
          frames = log ? log.frames : take[:frames]
          range = ((from || 0)...[to || frames, (from || 0) + 1].max)
          points = points.clamp(1, POINTS_MAX)
          {frames: frames, from: range.begin, to: range.end, tracks: log ? tracks(log, take[:folder], range, points) : imported(take, range, points)}
        end

        private

        # One lane a channel that was placed, in the order of its rows.
        def imported(take, range, points)
          pictures = Loomshuttle::Capture::Picture.of(bytes(take[:folder]), take[:files].size, range, points)
          take[:files].zip(pictures).map { |file, picture| {track: file[:track], name: file[:name], points: picture} }
        end

        def bytes(folder)
          path = File.join(@takes_folder, folder, "take.overview")
          File.file?(path) ? File.binread(path) : ""
        end

        def tracks(log, folder, range, points)
          sides = log.plan.tracks.flat_map { |track| track.sides.empty? ? [{track: track.key, name: track.name}] : track.sides }
          pictures = Loomshuttle::Capture::Picture.of(bytes(folder), log.plan.tracks.sum { |track|
            track.lanes.size
          }, (range.begin + log.start_frame)...(range.end + log.start_frame), points)
          sides.zip(pictures).map { |side, picture| {track: side[:track], name: log.names.fetch(side[:track], side[:name]), points: picture} }
        end
      end
    end
  end
end
