# frozen_string_literal: true

module Loomshuttle
  module Server
    # Marks the running take with the songs that are played meanwhile and their sections, each at the frame at which it
    # began to sound. Of several servers on one database one does it.
    class SongMarks
      TURN_S = 0.1
      private_constant :TURN_S

      # @param engine, deck [Links::ControlLink]
      # @param workspaces [Workspaces]
      # @param on_air [Store::OnAir]
      # @param leads [#call] whether it is this process that does it
      def initialize(engine:, deck:, workspaces:, on_air:, leads: -> { true })
        @engine, @deck, @workspaces, @on_air, @leads = engine, deck, workspaces, on_air, leads
      end

      def start
        Runtime::Loop.start("song marks", pause_s: TURN_S, retry_s: 1) { turn }
        self
      end

      private

      def turn
        playing = @deck.answers? ? @deck.last("deck")&.fetch("playing", nil) : nil
        take = (@engine.last("status") || {})["recording"] if @engine.answers?
        return @known = nil unless take && playing && !playing["paused"] && @leads.call

        # As long as it has not begun nothing says when it will.
        mark(take["number"], playing) if playing["position_frames"].positive?
      end

      def mark(number, playing)
        # Mostly nothing has changed since a moment ago, and nobody need be asked what the song is.
        return if @known&.first(3) == [number, playing["key"], playing["percent"]] && @range&.cover?(playing["position_frames"])

        section, range = section_at(playing)
        @range = range
        now = [number, playing["key"], playing["percent"], range&.begin]
        before, @known = @known, now
        return if before == now || !SongWishes.song_of(playing["key"])

        began = playing["frame"] - playing["position_frames"]
        say(playing["label"], began) unless before&.first(2) == now.first(2)
        say(section.name, began + range.begin) if section
      end

      # What lies before the first section is the count-in.
      def section_at(playing)
        id = @on_air.show_id or return
        of = SongWishes.song_of(playing["key"])
        show = @workspaces[id].show.at_tempo(of, playing["percent"])
        song = show.song(of) or return
        Show::Played.of(show, song).sections.find { |_, range| range.cover?(playing["position_frames"]) }
      end

      def say(label, at_frame)
        @engine.ask({do: "mark", id: SecureRandom.hex(6), label: label, at_frame: [at_frame, 0].max})
      rescue Runtime::Gone, BadInput
        # The take is over, or the engine says of itself that it is gone.
        nil
      end
    end
  end
end
