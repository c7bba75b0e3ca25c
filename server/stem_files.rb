# frozen_string_literal: true

module Loomshuttle
  module Server
    # Which stems of a show's songs are not on disk, or shorter there than they were: looked at now and then, for all who ask.
    class StemFiles
      LOOK_S = 2.0
      # The least that a sample takes in any file that is taken in.
      SAMPLE_BYTES_MIN = 2
      private_constant :LOOK_S, :SAMPLE_BYTES_MIN

      # @param folder [String] of all songs
      # @param songs [Store::Songs]
      def initialize(folder, songs)
        @folder, @songs = folder, songs
        @lock = Mutex.new
        @looked = {}
      end

      # @param show [Show]
      # @return [Hash{String => Hash{String => String}}] song id => file => "missing" or "cut"; none for what is as it was
      def faults(show_id, show)
        at_s, library, found = @lock.synchronize { @looked[show_id] }
        return found if library.equal?(show.library) && now_s - at_s < LOOK_S

        look(show).tap { |faults| @lock.synchronize { @looked[show_id] = [now_s, show.library, faults] } }
      end

      private

      def look(show)
        folders = @songs.folders(show.songs.map(&:id))
        show.songs.to_h { |song| [song.id, of_song(song, folders[song.id])] }.reject { |_, faults| faults.empty? }.freeze
      end

      def of_song(song, folder)
        stems = song.stems.to_h { |stem| [stem.file, fault(stem, File.join(@folder, folder.to_s, stem.file))] }
        sounds = song.own_sounds.map { |id| Show::OwnSound.path(id, song.sample_rate_hz) }.reject { |path| File.size?(File.join(@folder, path)) }
        {**stems.compact, **sounds.to_h { |path| [path, "missing"] }}
      end

      def fault(stem, path)
        size = File.size?(path) or return "missing"
        "cut" if size < stem.frames * stem.channels * SAMPLE_BYTES_MIN
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
