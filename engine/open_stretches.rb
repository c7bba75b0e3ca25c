# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The stretches of one place that are being written, one file a track. A file that refuses ends
    # its track, said in the journal at once, and the others go on; what refuses all files of a disk
    # is raised.
    #
    #   open = OpenStretches.new(folder, plan, origin: origin, journal: journal) { |words| fail_with(words) }
    #   open.begin(track, 48_000)
    #   open.each(96_000) { |file| file.add(batch) }
    #   open.close(track.key)
    class OpenStretches
      # What refuses one file like this refuses every file of that disk.
      WHOLE_DISK = [Errno::ENOSPC, Errno::EDQUOT, Errno::EROFS].freeze
      private_constant :WHOLE_DISK

      # {track's key => words} of tracks whose file could not be written
      attr_reader :refused

      # @param log [Capture::TakeLog, nil] of a take that goes on
      # @yield [String] what the last one said, when no track is left
      def initialize(folder, plan, origin:, journal:, log: nil, &none_left)
        @folder, @plan, @origin, @journal, @none_left = folder, plan, origin, journal, none_left
        @parts = Hash.new(0)
        log&.stretches&.each { |stretch| @parts[stretch.track] = [@parts[stretch.track], stretch.part].max }
        @files = {}
        @refused = {}
        @sick = Queue.new
      end

      # @return [Hash{String => Integer}] longest silence of each so far, in frames, by track
      def silences = @files.values.to_h { |file| [file.track.key, file.longest_silence_frames] }

      # Begins a track's next file, where it has none.
      #
      # @param frame [Integer] device frame of its first sample
      # @raise [SystemCallError] what the whole disk refuses
      def begin(track, frame)
        return if @files.key?(track.key)

        next_file(track, frame)
        @refused = @refused.except(track.key)
      rescue *WHOLE_DISK
        raise
      rescue SystemCallError => e
        lose(track, frame, e.message)
      end

      # Does something with each file.
      #
      # @param frame [Integer] device frame up to which all is written
      def each(frame)
        @files.values.each do |file|
          yield file
        rescue *WHOLE_DISK
          raise
        rescue Errno::EFBIG
          # A file system that takes no longer files ends a stretch, not the track.
          close(file.track.key)
          yield next_file(file.track, frame)
        rescue SystemCallError, IOError => e
          lose(file.track, frame, e.message)
        end
      end

      # From the thread that syncs. Files are closed by the writer alone: what was refused here is
      # seen by its next `tend`.
      def sync
        @files.values.each do |file|
          file.sync
        rescue SystemCallError => e
          @sick << [file, "#{e.message}, when it was asked to keep what it has"]
        rescue IOError
          # One that was closed meanwhile was synced by that.
          nil
        end
      end

      # Ends what sync found to be refused.
      def tend(frame)
        until @sick.empty?
          file, words = @sick.pop
          lose(file.track, frame, words) if @files[file.track.key].equal?(file)
        end
      end

      # @raise [SystemCallError]
      def close(key, disarmed: nil)
        file = @files[key] or return
        file.close
        @files.delete(key)
        # Armed and disarmed within one block: nobody wants a file without a sample.
        File.delete(File.join(@folder, file.name)) if file.frames.zero?
        said(file, disarmed: disarmed)
      end

      def close_all = @files.keys.each { |key| close(key) }

      # For a disk that refused: what it took stays.
      def give_up
        @files.each_value do |file|
          file.give_up
          said(file)
        rescue SystemCallError, IOError
          # Even the reserve is gone: the file's own header says how long it is.
          next
        end
        @files.clear
      end

      private

      def next_file(track, frame)
        part = @parts[track.key] + 1
        # A file of that name may be left over from an engine that was killed before it said so.
        part += 1 while File.exist?(File.join(@folder, track.file_name(part)))
        file = StretchFile.new(@folder, @plan, track, part: part, from_frame: frame, origin: @origin)
        @parts[track.key] = part
        @journal.add("stretch", track: track.key, part: part, file: file.name, from_frame: frame, time_reference_samples: @origin.samples_at(frame))
        @files[track.key] = file
      end

      def lose(track, frame, words)
        @refused = @refused.merge(track.key => words)
        @journal.add("fault", frame: frame, track: track.key, words: words)
        if (file = @files.delete(track.key))
          file.give_up
          said(file)
        end
        @none_left.call(words) if @files.empty?
      end

      def said(file, **more)
        @journal.add("end", track: file.track.key, part: file.part, to_frame: file.to_frame, **file.levels(@plan.sample_rate_hz), **more.compact)
      end
    end
  end
end
