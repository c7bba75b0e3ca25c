# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # A song of the library as a picture: the waveform of all its stems, and where its bars begin in the audio.
      class SongPicture
        POINTS_MAX = 4000
        # Of a song that is longer in bars the rest is not drawn.
        BARS_MAX = 5000
        private_constant :POINTS_MAX, :BARS_MAX

        # @param songs [Store::Songs]
        # @param data_folder [String]
        def initialize(songs:, data_folder:)
          @songs, @data_folder = songs, data_folder
        end

        # @param points [Integer]
        # @return [Hash] frames; points: [[low, high], ...] of 16 bits, none where nobody has drawn it; bars: the frame of the
        #   audio at which each begins, from bar 1, and at which the last one ends
        # @raise [BadInput]
        def call(id, points)
          song = @songs.summary(id)
          {frames: song.length_frames, points: drawn(song, points.clamp(1, POINTS_MAX)), bars: bars(song)}
        end

        private

        # Highest and lowest of all channels: how loud they are together is not asked of a picture.
        def drawn(song, points)
          path = File.join(@data_folder, "songs", @songs.folder(song.id).to_s, Jobs::Measured::PICTURE)
          return [] unless File.file?(path)

          lanes = Loomshuttle::Capture::Picture.of(File.binread(path), song.stems.sum(&:channels), 0...song.length_frames, points)
          lanes.transpose.map { |part| part.compact.then { |all| all.empty? ? [0, 0] : [all.map(&:first).min, all.map(&:last).max] } }
        end

        def bars(song)
          return [] unless song.map

          (1..[song.last_bar, BARS_MAX].min + 1).map { |bar| song.bar_frame(bar) }
        end
      end
    end
  end
end
