# frozen_string_literal: true

module Loomshuttle
  module Capture
    # What of a take somebody has to see: where it broke off, what was lost, what refused. Read
    # from its journal, so that the same fault has the same key wherever it is read.
    module Alarms
      Alarm = Value.of(:key, :about, :words, :at)
      # How a take ends when somebody meant it to.
      MEANT = ["stopped by hand", "the engine was ended", ""].freeze
      private_constant :MEANT

      module_function

      # @param log [TakeLog]
      # @param number [Integer] of the take, as it is called
      # @return [Array<Alarm>]
      def of(log, number)
        return [] if log.plan.uid.start_with?("v1-")

        [*breaks(log, number), *losses(log, number), *faults(log, number), *ends(log, number)]
      end

      # @return [String] 3725 s as "01:02:05"
      def clock(frames, rate_hz)
        seconds = [frames, 0].max / rate_hz
        format("%02d:%02d:%02d", seconds / 3600, seconds / 60 % 60, seconds % 60)
      end

      def breaks(log, number)
        log.breaks.map do |one|
          # As the clock on the page counts: the pre-roll lies before it.
          at = clock(one[:frame] - log.pressed_frame, log.plan.sample_rate_hz)
          whole = log.stretches.count { |stretch| !stretch.open? && stretch.to_frame <= one[:frame] }
          alarm(log, "break/#{one[:frame]}", one[:at], "Take #{number} broke off at #{at}: #{one[:why]}. #{went_on(log, one)} On disk: #{files(whole)} whole up to there.")
        end
      end

      def went_on(log, one)
        return "It goes on by itself as soon as device and disk are there." if one[:gap_frames].nil? && !log.closed?
        return "It did not go on (#{log.reason})." if one[:gap_frames].nil?

        "It went on by itself; #{seconds(one[:gap_frames], log)} are missing."
      end

      def losses(log, number)
        return [] if log.losses.empty?

        frames = log.lost_frames
        first = clock(log.losses.first[:frame] - log.pressed_frame, log.plan.sample_rate_hz)
        words = "Take #{number} lost #{seconds(frames, log)}, the first time at #{first}: #{log.losses.map { |loss| loss[:why] }.uniq.join("; ")}. " \
          "Silence was put there, so tracks stay aligned."
        [alarm(log, "lost", log.started_at, words)]
      end

      def faults(log, number)
        log.faults.map.with_index do |fault, at|
          alarm(log, "fault/#{at}", log.started_at, "Take #{number}: #{refused(log, fault)} refused: #{fault[:words]}. On disk: #{files(log.stretches.size)} whole up to there.")
        end
      end

      def refused(log, fault)
        return "a place that it is written to" unless fault[:track]

        "the file of track #{log.plan.tracks.find { |track| track.key == fault[:track] }&.name || fault[:track]}"
      end

      def ends(log, number)
        return [] if !log.closed? || MEANT.include?(log.reason) || log.faults.any? { |fault| fault[:words] == log.reason }

        at = clock(log.frames, log.plan.sample_rate_hz)
        [alarm(log, "end", log.started_at, "Take #{number} ended by itself at #{at}: #{log.reason}. On disk: #{files(log.stretches.size)}, whole.")]
      end

      def seconds(frames, log) = "#{(frames / log.plan.sample_rate_hz.to_f).round(2)} s"
      def files(count) = "#{count} #{(count == 1) ? "file" : "files"}"
      def alarm(log, what, at, words) = Alarm.new(key: "take/#{log.plan.uid}/#{what}", about: "take", words: words, at: at.to_s)
      private_class_method :breaks, :went_on, :losses, :faults, :ends, :seconds, :files, :alarm
    end
  end
end
