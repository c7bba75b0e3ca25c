# frozen_string_literal: true

module Loomshuttle
  module Capture
    # What a take's journal says, read from its lines alone. The journal grows by one JSON line
    # an event and is never written over, so that whatever was there stays there; this folds the
    # lines into what the take is. Frames are device frames, the take begins at `start_frame`.
    #
    #   log = TakeLog.read(text)
    #   log.state       # => "recording", "waiting" (broken off, not given up) or "closed"
    #   log.stretches   # => [Stretch, ...]
    class TakeLog
      # The lines' `what`. One that is not known here is left alone: a newer engine wrote it.
      KINDS = %w[begun stretch end lost mark marked unmarked patch whole named broken back fault closed].freeze

      attr_reader :plan, :start_frame, :started_at, :time_reference_samples, :stretches, :marks, :losses, :breaks, :patches, :faults,
        :state, :reason, :whole_frame, :odd_lines, :name, :notes, :names, :pressed_frame, :date, :time, :pair

      # @param text [String] of the journal
      # @return [TakeLog, nil] nil where nothing says what take it is
      def self.read(text)
        log = new(text.scrub("?").lines)
        log if log.plan
      end

      def initialize(lines)
        @stretches, @marks, @losses, @breaks, @patches, @faults = [], [], [], [], [], []
        @names = {}
        @odd_lines = 0
        lines.each { |line| take(line) }
      end

      # @return [Integer] length from its first to its last frame, with what lies between
      def frames = start_frame ? [end_frame - start_frame, 0].max : 0
      def end_frame = [*stretches.map { |stretch| stretch.to_frame || stretch.from_frame }, start_frame, (whole_frame unless closed?)].compact.max
      def lost_frames = losses.sum { |loss| loss[:frames] }
      def closed? = state == "closed"

      # When anything was last heard of it, by the clock on the wall.
      def last_utc_s = pair ? pair["utc_s"] : 0.0

      # @param utc_s, mono_s [Float] now
      # @param boot [String] which start of the machine this is
      # @return [Integer] device frame that would be now, had it gone on: by the clock that
      #   nobody sets where the machine has run through, by the one on the wall otherwise
      def frame_now(utc_s:, mono_s:, boot:)
        return end_frame unless pair

        passed_s = (pair["boot"] == boot && pair["mono_s"]) ? mono_s - pair["mono_s"] : utc_s - pair["utc_s"]
        [pair["clock_frame"] + (passed_s * plan.sample_rate_hz).round, end_frame].max
      end

      def open_stretches = stretches.select(&:open?)
      # @return [Integer] parts that a track has already
      def parts(track) = stretches.count { |stretch| stretch.track == track }
      # @return [Hash{String => String}] file name without ending and part of each track now
      def files_of = stretches.select { |stretch| stretch.part == 1 }.to_h { |stretch| [stretch.track, stretch.file.delete_suffix(".wav")] }
      # @return [Array<String>] keys of the tracks that were recorded last
      def armed = @armed.to_a

      # The same take as it stood in the one JSON file of the first version.
      #
      # @param data [Object] what take.json holds
      # @return [String, nil] journal lines, nil where it describes no take
      def self.lines_of_version_1(data)
        return unless data.is_a?(Hash) && data["files"].is_a?(Array) && data["files"].all?(Hash) && data["sample_rate_hz"].is_a?(Integer)

        Version1.lines(data)
      end

      private

      def take(line)
        data = JSON.parse(line)
        return @odd_lines += 1 unless data.is_a?(Hash) && KINDS.include?(data["what"])
        return @odd_lines += 1 unless @plan || data["what"] == "begun"

        send(:"line_#{data["what"]}", data)
        @pair = data.slice("clock_frame", "utc_s", "mono_s", "boot") if pair?(data)
      rescue JSON::ParserError, KeyError, TypeError, NoMethodError, ArgumentError
        # Half a line is what a power cut leaves; rubbish is what somebody else wrote.
        @odd_lines += 1
      end

      # A journal may be anybody's, and what it says goes to paths, sums and the database: a line is taken whole, or is odd.
      def text(value) = value.is_a?(String) ? value : raise(TypeError, "no text")
      # As many as have a place in the database and in a page's numbers (RFC 8259, section 6).
      def whole(value) = (value.is_a?(Integer) && value.abs < 2**53) ? value : raise(TypeError, "no whole number")
      def file(value) = FileName.plain?(value) ? value : raise(TypeError, "no file's name")
      def list(value, kind) = (value.nil? || (value.is_a?(Array) && value.all?(kind))) ? value : raise(TypeError, "no list")

      # Till the year 9999, which a date can still be written of.
      def pair?(data)
        data["clock_frame"].is_a?(Integer) && [Numeric, NilClass].any? { |kind| data["mono_s"].is_a?(kind) } && data["utc_s"].is_a?(Numeric) && data["utc_s"].between?(0, 253_402_300_799)
      end

      def line_begun(data)
        plan = TakePlan.from_h(data.fetch("plan"))
        start, pressed, reference = whole(data.fetch("start_frame")), whole(data["pressed_frame"] || data["start_frame"]), whole(data.fetch("time_reference_samples"))
        raise ArgumentError, "no plan" unless plan.sound?

        @plan, @start_frame, @pressed_frame, @time_reference_samples = plan, start, pressed, reference
        @started_at = data["started_at"].to_s
        @date, @time = data["date"].to_s, data["time"].to_s
        @name, @notes = plan.name, plan.notes
        @state = "recording"
        @armed = Set.new(plan.tracks.select(&:armed).map(&:key))
        @whole_frame = start
      end

      def line_stretch(data)
        @stretches << Stretch.new(track: text(data.fetch("track")), part: whole(data.fetch("part")), file: file(data.fetch("file")), from_frame: whole(data.fetch("from_frame")),
          time_reference_samples: whole(data.fetch("time_reference_samples")))
        @armed << data["track"]
      end

      def line_end(data)
        at = @stretches.rindex { |stretch| stretch.track == data["track"] && stretch.part == data["part"] } or return
        to_frame, crc32 = whole(data.fetch("to_frame")), data["crc32"]&.then { |sum| text(sum) }
        peaks_dbfs, clips, silence_s = %w[peaks_dbfs clips silence_s].map { |name| list(data[name], Numeric) }
        @armed.delete(data["track"]) if data["disarmed"]
        # A stretch without a frame has no file.
        return @stretches.delete_at(at) if to_frame == @stretches[at].from_frame

        lost = @losses.select { |loss| loss[:frame] >= @stretches[at].from_frame }.sum { |loss| loss[:frames] }
        @stretches[at] = @stretches[at].with(to_frame: to_frame, peaks_dbfs: peaks_dbfs, clips: clips, silence_s: silence_s, crc32: crc32, lost_frames: lost)
      end

      def line_lost(data) = @losses << {frame: whole(data.fetch("frame")), frames: whole(data.fetch("frames")), why: data["why"].to_s}
      def line_mark(data) = @marks << {id: data.fetch("id").to_s, frame: whole(data.fetch("frame")), label: data["label"].to_s}
      def line_unmarked(data) = @marks.reject! { |mark| mark[:id] == data["id"] }
      def line_patch(data) = @patches << {frame: whole(data.fetch("frame")), words: data["words"].to_s}
      def line_fault(data) = @faults << {frame: data["frame"]&.then { |frame| whole(frame) }, track: data["track"]&.then { |track| text(track) }, words: data["words"].to_s}.compact

      def line_marked(data)
        at = @marks.index { |mark| mark[:id] == data["id"] } or return
        @marks[at] = @marks[at].merge(label: data["label"].to_s)
      end

      def line_whole(data) = @whole_frame = whole(data.fetch("frame"))

      # The take itself, one of its tracks or one of its files has another name by now.
      def line_named(data)
        return file_named(data) if data["part"]
        return @names[text(data["track"])] = data["name"].to_s if data["track"]

        @name = data["name"].to_s if data.key?("name")
        @notes = data["notes"].to_s if data.key?("notes")
      end

      def file_named(data)
        at = @stretches.rindex { |stretch| stretch.track == data["track"] && stretch.part == data["part"] } or return
        @stretches[at] = @stretches[at].with(file: file(data.fetch("file")))
      end

      def line_broken(data)
        @breaks << {frame: whole(data.fetch("frame")), why: data["why"].to_s, at: data["at"].to_s, gap_frames: nil}
        @state = "waiting"
      end

      def line_back(data)
        gap_frames = whole(data.fetch("gap_frames"))
        @breaks[-1] = @breaks.last.merge(gap_frames: gap_frames) if @breaks.any?
        @state = "recording"
      end

      def line_closed(data)
        @state = "closed"
        @reason = data["reason"].to_s
      end

      # Takes that were recorded before takes were made of stretches.
      module Version1
        module_function

        def lines(data)
          frames = data["frames"].to_i
          closed = (data["state"] == "closed") ? [{what: "closed", reason: data["reason"].to_s}] : []
          [begun(data), *data["files"].flat_map { |file| stretch(data, file, frames) }, *closed].map { |line| JSON.generate(line) + "\n" }.join
        end

        def begun(data)
          {what: "begun", start_frame: 0, started_at: "#{data["date"]}T#{data["time"]}", time_reference_samples: data["time_reference_samples"].to_i,
           plan: {uid: "v1-#{data["id"]}", number: data["number"].to_i, folder: "", sample_rate_hz: data["sample_rate_hz"], name: "Take #{data["number"]}",
                  tracks: data["files"].map { |file|
                    {key: file["track"].to_s, name: file["name"].to_s, file: file["file"].to_s.delete_suffix(".wav"), lanes: [file["lane"].to_i]}
                  }}}
        end

        def stretch(data, file, frames)
          opened = {what: "stretch", track: file["track"].to_s, part: 1, file: file["file"].to_s, from_frame: 0, time_reference_samples: data["time_reference_samples"].to_i}
          (data["state"] == "closed") ? [opened, {what: "end", track: file["track"].to_s, part: 1, to_frame: frames}] : [opened]
        end
      end
      private_constant :Version1
    end
  end
end
