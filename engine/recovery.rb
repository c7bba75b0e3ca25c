# frozen_string_literal: true

module Loomshuttle
  module Engine
    # What an engine finds when it starts: takes that a crash or a power cut left open. Their
    # files' headers are made to fit what is on disk; one that stood still for less than an hour
    # is gone on with, the others are closed. What cannot be read is skipped and told: the
    # engine always starts.
    class Recovery
      # Found: a take that is to go on. Told: words about one folder.
      Found = Value.of(:folder, :log)
      Told = Value.of(:folder, :words)

      attr_reader :resumable, :told, :finished

      # @param now_utc_s [Float]
      def initialize(takes_folder, now_utc_s:)
        @now_utc_s = now_utc_s
        @resumable, @told, @finished = [], [], []
        Journal.folders(takes_folder).each { |folder| look_at(folder) }
        # One take at a time goes on: the youngest.
        *older, @youngest = @resumable.sort_by { |found| found.log.last_utc_s }
        older.each { |found| close(found.folder, found.log, "another take was begun after it") }
      end

      # @return [Found, nil]
      attr_reader :youngest

      private

      def look_at(folder)
        log = Journal.read(folder) or return tell(folder, "its journal is no journal; its files were left alone")
        tell(folder, "#{log.odd_lines} odd #{(log.odd_lines == 1) ? "line in its journal was" : "lines in its journal were"} skipped") if log.odd_lines > 0 && !log.closed?
        return if log.closed?
        return tell(folder, "another engine is writing it; it was left alone") if Journal.written?(folder)

        mend(folder, log)
      rescue SystemCallError, IOError, BadInput => e
        tell(folder, e.message)
      rescue => e
        warn "recovery: #{folder}: #{e.full_message(highlight: false)}"
        tell(folder, "#{e.class}: #{e.message}")
      end

      def mend(folder, log)
        Journal.take_over_version_1(folder)
        journal = Journal.new(folder)
        repair(folder, log, journal)
        journal.add("broken", frame: end_frame(folder), why: "the engine was ended in the middle of it", at: Time.at(log.last_utc_s).utc.iso8601(3), utc_s: log.last_utc_s) unless log.state == "waiting"
        journal.leave
        log = Journal.read(folder)
        young = @now_utc_s - log.last_utc_s <= Capture::TakePlan::CARRY_ON_S
        return @resumable << Found.new(folder: folder, log: log) if young && log.plan.carry_on && log.plan.sample_rate_hz > 0 && !log.plan.uid.start_with?("v1-")

        close(folder, log, "recovered after the engine ended without closing it")
      end

      # The end of each file is what its length says.
      def repair(folder, log, journal)
        log.open_stretches.each do |stretch|
          path = File.join(folder, stretch.file)
          next tell(folder, "#{stretch.file} is not there") unless File.file?(path)

          frames = StretchFile.repair(path)
          journal.add("end", track: stretch.track, part: stretch.part, to_frame: stretch.from_frame + frames)
        end
      end

      def end_frame(folder) = Journal.read(folder).stretches.map { |stretch| stretch.to_frame || stretch.from_frame }.max || 0

      def close(folder, log, reason)
        journal = Journal.new(folder)
        journal.add("closed", frame: log.end_frame, reason: reason)
        journal.close
        @finished << folder
      end

      def tell(folder, words) = @told << Told.new(folder: folder, words: words)
    end
  end
end
