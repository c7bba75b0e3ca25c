# frozen_string_literal: true

module Loomshuttle
  module Engine
    # Gives a track of a closed take another name: its files follow, the name inside them too.
    # Not one sample is moved; the header has room for any name.
    module Renaming
      module_function

      # @param folder [String] of the take
      # @param key [String] of the track
      # @return [Array<Hash>] {from:, to:} of the files that were renamed
      # @raise [BadInput, SystemCallError]
      def track(folder, key, name)
        log = Journal.read(folder) or raise BadInput.new(field: "take", value: File.basename(folder), allowed: "a take with a journal")
        track = log.plan.tracks.find { |one| one.key == key } or raise BadInput.new(field: "track", value: key, allowed: "a track of this take")
        now = renamed(log, track, name)
        done = log.stretches.select { |stretch| stretch.track == key }.filter_map { |stretch| follow(folder, log, stretch, now) }
        say(folder, key, name, done)
        done
      end

      def say(folder, key, name, done)
        journal = Journal.new(folder)
        journal.add("named", track: key, name: name)
        done.each { |file| journal.add("named", track: key, part: file[:part], file: file[:to]) }
        journal.close
      end

      # @return [Capture::TrackPlan] with its file's name made from the new one, its number kept
      def renamed(log, track, name)
        number = track.file[/\A\d+/].to_i
        taken = log.plan.tracks.reject { |one| one.key == track.key }.map { |one| "#{log.files_of.fetch(one.key, one.file)}.wav" }
        file = Capture::FileName.of(number, name)
        raise BadInput.new(field: "name", value: name, allowed: "a name whose file is not there yet") if taken.include?(file)

        sides = track.sides.map { |side| (track.sides.size == 1) ? side.merge(name: name) : side }
        track.with(name: name, file: file.delete_suffix(".wav"), sides: sides)
      end

      def follow(folder, log, stretch, track)
        from, to = File.join(folder, stretch.file), File.join(folder, track.file_name(stretch.part))
        return if !File.exist?(from) || (from != to && File.exist?(to))

        rewrite_header(from, log, stretch, track) unless log.plan.uid.start_with?("v1-")
        File.rename(from, to)
        {track: stretch.track, part: stretch.part, from: stretch.file, to: File.basename(to)}
      end

      def rewrite_header(path, log, stretch, track)
        header = header_of(log, stretch, track)
        frames = (File.size(path) - header.size) / header.frame_bytes
        File.open(path, "r+b") { |file| file.pwrite(header.bytes(frames), 0) && file.fdatasync }
      end

      # @return [Audio::Wav::Header] that a stretch's file has
      def header_of(log, stretch, track)
        date, time = log.started_at.split("T")
        origin = StretchFile::Origin.new(start_frame: log.start_frame, time_reference_samples: stretch.time_reference_samples, date: log.date || date.to_s,
          time: log.time || time.to_s[0, 8])
        StretchFile.header(log.plan, track, origin)
      end
      private_class_method :say, :renamed, :follow, :rewrite_header
    end
  end
end
