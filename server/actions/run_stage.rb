# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # What the stage's keys do, for whoever has no page: by the place of a song in the set list, by a section's name.
      # Two who press at once meet in the deck: one of them is told.
      class RunStage
        FADE_S = 4.0
        AT = %w[beat bar section].freeze
        private_constant :FADE_S, :AT

        # @param play [Play]
        # @param deck [Links::ControlLink]
        # @param workspaces [Workspaces]
        # @param on_air [Store::OnAir]
        # @param presses [Store::Presses]
        def initialize(play:, deck:, workspaces:, on_air:, presses:)
          @play, @deck, @workspaces, @on_air, @presses = play, deck, workspaces, on_air, presses
        end

        ACTS = %w[go stop stop-at-bar fade silence round jump next tempo].freeze

        # @param name [String] of ACTS
        # @param arguments [Array] as they came
        # @param who [String] for the log
        # @raise [BadInput, Runtime::Gone] nothing was done
        def call(name, arguments, who:)
          raise BadInput.new(field: "address", value: name, allowed: ACTS.join(", ")) unless ACTS.include?(name)

          before = @play.place
          label = send(name.tr("-", "_"), *arguments.first(2))
          @presses.note(show_id, who: who, label: label, place: before.empty? ? @play.place : before)
        rescue ArgumentError
          raise BadInput.new(field: name, value: arguments.size, allowed: "fewer arguments")
        end

        private

        def show_id = @on_air.show_id || raise(BadInput.new(field: "show", value: nil, allowed: "a show on air"))
        def show = @workspaces[show_id].show
        def playing = @deck.ask({do: "status"})["playing"]

        # The song that waits; or that of a place in the set list.
        def go(number = nil)
          standing = playing&.then { |now| now if now["paused"] }
          return @play.pause(false) && "Go" if standing && number.nil?

          @play.song(show_id, song(number || 1), onward: true)
          "Go"
        end

        def song(number)
          ids = show.set_list.keys
          raise BadInput.new(field: "song", value: number, allowed: "1 to #{ids.size}") unless number.is_a?(Integer) && number.between?(1, ids.size)

          ids[number - 1]
        end

        def next
          ids = show.set_list.keys
          now = playing
          at = ids.index(SongWishes.song_of(now&.fetch("key")))
          raise BadInput.new(field: "song", value: nil, allowed: "a song of the set list that plays, with another one behind it") unless at && ids[at + 1]

          @play.song(show_id, ids[at + 1], onward: true, instead_of: now["paused"] ? nil : now["key"])
          "Next song now"
        end

        def stop = @play.stop && "Stop"
        def stop_at_bar = @play.jump({"stop" => true, "at" => "bar"}) && "Stop at the bar"

        def fade(seconds = FADE_S)
          raise BadInput.new(field: "fade", value: seconds, allowed: "0.005 to 60 s") unless seconds.is_a?(Numeric) && seconds.between?(0.005, 60)

          @play.fade(seconds)
          "Fade all, #{seconds.round(1)} s"
        end

        def silence(on = 1)
          @play.hush(on != 0)
          (on == 0) ? "Back in" : "Silence"
        end

        def round(on = 1)
          return @play.loop(nil) && "Let it go" if on == 0

          here = sections.find { |_, range| range.cover?(playing.to_h["position_frames"].to_i) }
          @play.loop(here ? [here.last.begin, here.last.end] : [0])
          "Round again"
        end

        # @param section [String, Integer] its name, or its place in the song
        def jump(section, at = "section")
          raise BadInput.new(field: "at", value: at, allowed: AT.join(", ")) unless AT.include?(at)

          found = section.is_a?(Integer) ? (sections[section - 1] if section.positive?) : sections.find { |one, _| one.name.casecmp?(section.to_s) }
          raise BadInput.new(field: "section", value: section, allowed: sections.map { |one, _| one.name }.join(", ")) unless found

          wish = {"frame" => found.last.begin}.merge((at == "section") ? {"at_frame" => end_of_section} : {"at" => at})
          @play.jump(wish)
          @play.jump_label(wish)
        end

        def tempo(percent)
          range = Loomshuttle::Show::Song::PERCENT
          unless percent.is_a?(Integer) && range.cover?(percent)
            raise BadInput.new(field: "tempo", value: percent, allowed: "#{range.min} to #{range.max} % of the song's own")
          end

          @play.tempo(percent)
          "#{percent} % from the section's end"
        end

        def sections = @play.playing_sections

        def end_of_section
          position = playing.to_h["position_frames"].to_i
          sections.find { |_, range| range.end > position }&.last&.end || position
        end
      end
    end
  end
end
