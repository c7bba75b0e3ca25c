# frozen_string_literal: true

module Loomshuttle
  module Server
    # Keeps the database's takes what the disk says they are: their journals are read whenever
    # engine or database come back, whenever the engine tells of something new, and now and
    # then. A take is never "recording" here when it is not, and what went wrong becomes an alarm.
    class TakesKeeper
      # How often all journals' ages are looked at though nobody told of anything.
      LOOK_S = 20.0
      TURN_S = 0.1
      # A journal that cannot be kept is tried so often: two may write at once, and a disk may be slow.
      TRIES = 3
      AGAIN_S = 1.0
      private_constant :LOOK_S, :TURN_S, :TRIES, :AGAIN_S

      # @param takes_folder [String]
      # @param takes [Store::Takes], alarms [Store::Alarms]
      # @param engine [Links::ControlLink]
      # @param show_of [#call] is given a take's plan => id of its show, nil where that is not here
      # @param armed [#call] => keys of the tracks of the show on air that are armed
      def initialize(takes_folder, takes:, alarms:, engine:, show_of:, clock:, armed: -> { [] })
        @takes_folder, @takes, @alarms, @engine, @show_of, @clock, @armed = takes_folder, takes, alarms, engine, show_of, clock, armed
        @read = {}
        @tries = Hash.new(0)
        @told = nil
        @looked_s = -LOOK_S
        @loop = Runtime::Loop.start("takes keeper", pause_s: TURN_S, retry_s: 1.0) { turn }
      end

      def stop = @loop.kill.join

      # Reads one take's journal now; for whoever has just changed it and wants to see it.
      #
      # @return [Integer, nil] the take's id
      def look_at(folder)
        log = log_of(folder) or return
        keep(folder, log)
        @takes.id_of(log.plan.uid)
      end

      # @param folder [String] below the takes' folder
      # @return [Capture::TakeLog, nil] nil for what is no journal; the engine tells of those
      def log_of(folder)
        path = File.join(@takes_folder, folder, "take.journal")
        text = File.file?(path) ? File.read(path, encoding: "UTF-8") : Capture::TakeLog.lines_of_version_1(JSON.parse(File.read(File.join(@takes_folder, folder, "take.json"))))
        text && Capture::TakeLog.read(text)
      rescue SystemCallError, JSON::ParserError
        nil
      end

      private

      # Whether anything is to be done is seen from the engine's own words. What fails (no
      # database) is not marked as done: the loop tries again.
      def turn
        told = [@engine.connections, *news]
        return if told == @told && now_s - @looked_s < LOOK_S

        look
        arm_again
        @told = told
        @looked_s = now_s
        # What could not be kept is tried again before anything new is told.
        @looked_s -= LOOK_S - AGAIN_S if @tries.any?
      end

      # An arm change that came in the moment in which the engine died is in the show and not in
      # the take that goes on: what the page shows as armed is recorded.
      def arm_again
        return if @connection == @engine.connections || !(recording = @engine.last("status")&.fetch("recording", nil))

        known = log_of(recording.dig("take", "folder"))&.plan&.tracks.to_a.map(&:key)
        missing = (@armed.call & known) - recording["armed"]
        @engine.ask(do: "arm", tracks: missing, on: true) if missing.any?
        @connection = @engine.connections
      rescue Runtime::Gone, BadInput
        # It has just ended, or went away again; the next connection looks anew.
        nil
      end

      # What of the engine's status says that a journal has changed.
      def news
        status = @engine.last("status") or return []
        recording = status["recording"]
        [status["last_take"], recording&.slice("take", "state", "armed", "marks"), recording && recording["places"].map { |place|
          place["fault"]
        }, status["faults"].size, recording && recording["lost_frames"]]
      end

      def look
        Dir.glob("**/{take.journal,take.json}", base: @takes_folder).map { |path| File.dirname(path) }.uniq.each { |folder| read(folder) }
        close_lost
        raise_engine_alarms
      end

      # A journal is read when it has changed; its age and size say so.
      def read(folder)
        stat = stat(folder) or return
        return if @read[folder] == stat

        log = log_of(folder) or return
        keep(folder, log)
        @read[folder] = stat
        @tries.delete(folder)
      rescue Sequel::DatabaseConnectionError, Sequel::DatabaseDisconnectError, Sequel::PoolTimeout
        raise
      rescue => e
        # One that cannot be kept keeps no other from it.
        @tries[folder] += 1
        give_up(folder, stat, e) if @tries[folder] >= TRIES
      end

      def give_up(folder, stat, error)
        warn "takes keeper: #{folder}: #{error.full_message(highlight: false)}"
        @read[folder] = stat
        @tries.delete(folder)
        raise_alarm("journal/#{folder}", "take", "What the journal in the folder #{folder} says could not be kept: #{error.message.lines.first.strip[0, 200]}. Its files are left as they are.",
          @clock.call.utc.iso8601(3))
      end

      def stat(folder)
        path = %w[take.journal take.json].map { |name| File.join(@takes_folder, folder, name) }.find { |one| File.file?(one) }
        path && File.stat(path).then { |stat| [path, stat.size, stat.mtime] }
      rescue SystemCallError
        nil
      end

      def keep(folder, log)
        show_id = @show_of.call(log.plan) or return stray(folder, log)
        @takes.keep(TakeRecord.take(folder, log, show_id), TakeRecord.files(log))
        Capture::Alarms.of(log, log.plan.number).each { |alarm| raise_alarm(alarm.key, alarm.about, alarm.words, alarm.at) }
      end

      # What its show was nobody here knows; the files are left alone.
      def stray(folder, log)
        raise_alarm("stray/#{log.plan.uid}", "take", "The take in the folder #{folder} belongs to a show that is not here. Its files are left as they are.", @clock.call.utc.iso8601(3))
      end

      # Rows that are open though nothing runs: their journal is gone, or nobody goes on with it.
      def close_lost
        return unless @engine.answers?

        running = @engine.last("status")&.dig("recording", "take", "uid")
        @takes.open.each do |row|
          next if row[:uid] == running

          close_row(row)
        end
      end

      def close_row(row)
        log = log_of(row[:folder])
        return if log && !log.closed? && young?(log)

        @takes.close(row[:id], reason: log ? "its journal was never closed" : "its files are not there any more")
        raise_alarm("row/#{row[:uid]}", "take", "Take #{row[:number]} has no end: #{log ? "its journal was never closed" : "its files are not there any more"}.", @clock.call.utc.iso8601(3))
      end

      # One that was begun a moment ago may not be in the engine's status yet.
      def young?(log) = @clock.call.to_f - log.last_utc_s < 5

      # That a take goes on is told by its own journal, with how much is missing.
      def raise_engine_alarms
        @engine.last("status")&.fetch("faults", [])&.reject { |fault|
          fault["about"] == "resumed"
        }&.each { |fault| raise_alarm(fault["key"], fault["about"], fault["words"], fault["at"]) }
      end

      def raise_alarm(key, about, words, at)
        @alarms.raise_alarm(key, about: about, words: words, at: at)
      end

      def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    end
  end
end
