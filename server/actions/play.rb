# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Plays takes and songs: works out from the patch which lane each track or role goes
      # to, and asks the deck. Records over what was recorded, aligned to the sample.
      class Play
        # The deck reads the first second of every file before it answers.
        ANSWER_S = 20
        # What a desk's effects go on sounding behind the end.
        RING_ON_S = 3
        # Another tempo's stems are opened and read meanwhile.
        READ_S = 1.0
        private_constant :ANSWER_S, :RING_ON_S, :READ_S

        # @param workspaces [Workspaces]
        # @param takes [Store::Takes]
        # @param wishes [SongWishes]
        # @param deck [Links::ControlLink]
        # @param keeper [TakesKeeper]
        # @param capture [Capture]
        # @param on_air [Store::OnAir]
        # @param running [RunningTake]
        def initialize(workspaces:, takes:, wishes:, deck:, keeper:, capture:, on_air:, running:)
          @workspaces, @takes, @wishes, @deck, @keeper, @capture, @on_air, @running = workspaces, takes, wishes, deck, keeper, capture, on_air, running
        end

        # @param show_id [Integer] whose take it is, and whose lanes it goes to
        # @param over_take [Boolean] somebody was told that a take runs, and wants it all the same
        # @param onward [Boolean] the takes that were recorded behind it follow without a gap
        # @raise [BadInput] when no track of the take has a lane back
        def take(show_id, id, from_frame: 0, repeat: false, onward: false, over_take: false)
          take = @takes.find(show_id, id)
          wish = program(show_on_air(show_id), [take, *(@takes.behind(show_id, take) if onward)], from_frame, repeat)
          refuse_over_take(over_take)
          @deck.ask(wish, seconds: ANSWER_S)
        end

        # Plays a take while further tracks are recorded into a new one, whose samples lie where
        # the musicians heard what they played to: what the way out and back takes is taken off.
        #
        # @param tracks [Array<String>, nil] that are recorded; nil for those that are armed
        # @param once [Boolean] it ends by itself when what was played, and what rings on behind it, is over
        # @return [Hash] id, number of the new take
        def overdub(show_id, id, tracks: nil, once: false)
          show = show_on_air(show_id)
          take = @takes.find(show_id, id)
          refuse_unrecorded(show, take, tracks)

          at_frame = @deck.ask(program(show, [take], 0, false), seconds: ANSWER_S)["at_frame"]
          round_trip = @workspaces[show_id].session.round_trip_frames
          more = {only: tracks, length_frames: (take[:frames] + RING_ON_S * take[:sample_rate_hz] if once)}.compact
          @capture.start(show_id, name: "#{tracks ? "Print of" : "Over"} #{take[:name]}", from_frame: at_frame + round_trip, on_recorder: true, origin_samples: origin_samples(take), over: take[:uid],
            preroll_s: 0, **more)
        rescue BadInput, Runtime::Gone
          stop if at_frame
          raise
        end

        # Any song of the library, whether it is in the set list or not.
        #
        # A show is recorded while its songs play: a take that runs is no reason to ask.
        #
        # @param onward [Boolean] the set list goes on behind it
        # @param instead_of [String, nil] key of what plays as far as whoever presses knows; it is refused where something else does
        # @raise [BadInput] when a role of the song has no lane
        def song(show_id, id, onward: false, instead_of: nil)
          show = show_on_air(show_id)
          wish = @wishes.of(show, id)
          @deck.ask({do: "play", **wish, **(onward ? {**@wishes.ending(show, id), queue: @wishes.behind(show, id), instead_of: instead_of} : {})}, seconds: ANSWER_S)
        end

        def stop = @deck.ask({do: "stop"})
        def locate(frame) = @deck.ask({do: "locate", frame: frame})

        # @param bar [Integer] of the song that plays in the take that plays
        # @raise [BadInput]
        def locate_bar(bar)
          playing = @deck.ask({do: "status"})["playing"]
          id = playing && playing["key"].to_s[%r{\Atake/(\d+)\z}, 1] or raise BadInput.new(field: "playing", value: playing&.fetch("label"), allowed: "a take that plays")
          show_id = @on_air.show_id || raise(nobody)
          locate(Soundcheck::BarsInTake.frame(@workspaces[show_id].show, @takes.find(show_id, id.to_i)[:marks], bar, near: playing["position_frames"]))
        end

        def jump(wish) = @deck.ask({do: "jump", **wish.slice("frame", "at", "at_frame", "stop").transform_keys(&:to_sym)})
        def fade(seconds) = @deck.ask({do: "fade", seconds: seconds})
        def hush(on) = @deck.ask({do: "hush", on: on})

        # The song that plays, at another of its tempi that lie ready, from the end of the section that plays; what is left
        # of that is enough to read what comes.
        #
        # @param percent [Integer] of its own tempo
        # @raise [BadInput]
        def tempo(percent)
          playing = @deck.ask({do: "status"})["playing"]
          id = SongWishes.song_of(playing&.fetch("key")) or raise BadInput.new(field: "playing", value: playing&.fetch("label"), allowed: "a song that plays")
          show = show_on_air(@on_air.show_id || raise(nobody))
          at, frame = *Show::Retimed.of(show, id, from: playing["percent"], to: percent, position: playing["position_frames"] + (READ_S * show.sample_rate_hz).round)
          @deck.ask({do: "retime", wish: @wishes.of(show.at_tempo(id, percent), id), at_frame: at, frame: frame}, seconds: ANSWER_S)
        end

        # @return [String] what a jump is called in the log
        def jump_label(wish)
          at = wish["at"] ? "the #{wish["at"]}" : "the section's end"
          return "Stop at #{at}" if wish["stop"]
          return "Let the jump go" unless wish["frame"]

          name = playing_sections.find { |_, range| range.begin == wish["frame"] }&.first&.name
          "Jump to #{name || "frame #{wish["frame"]}"} at #{at}"
        end

        # @return [Array<Array(Show::Section, Range)>] of the song that plays or is paused, as it is played
        def playing_sections
          playing = @deck.last("deck")&.fetch("playing", nil).to_h
          id = SongWishes.song_of(playing["key"])
          show = @on_air.show_id&.then { |show_id| @workspaces[show_id].show.at_tempo(id, playing["percent"]) }
          song = show&.song(id)
          song ? Show::Played.of(show, song).sections : []
        end

        # @return [String] song, bar and beat that sound now; empty while nothing plays
        def place
          playing = @deck.last("deck")&.fetch("playing", nil) or return ""
          bar, beat = playing["place"]
          [playing["label"], *("bar #{bar} beat #{beat}" if bar)].join(", ")
        end

        def loop(range) = @deck.ask({do: "loop", loop: range})
        def pause(on) = @deck.ask({do: "pause", on: on}, seconds: ANSWER_S)
        def mute(keys) = @deck.ask({do: "mute", keys: keys})
        def trim(key, gain_db) = @deck.ask({do: "gain", gains_db: {key => gain_db}})

        # One track alone, on a pair of lanes that nothing else goes to: the desk's returns play on as they do.
        #
        # @param key [String, nil] nil for none
        # @raise [BadInput] where every lane is used
        def solo(key)
          return @deck.ask({do: "solo", key: nil}) unless key

          @deck.ask({do: "solo", key: key, lanes: free_pair(@workspaces[@on_air.show_id || raise(nobody)].show)})
        end

        # How long it is from an output lane to an input lane that hears it, and kept.
        #
        # @return [Hash] frames, ms, height_dbfs
        def measure(show_id, lane_out, lane_in)
          found = @deck.ask({do: "measure", lane_out: lane_out, lane_in: lane_in}, seconds: ANSWER_S)
          @workspaces[show_id].keep_session("round_trip_frames" => found["frames"])
          found
        end

        private

        # Lanes are those of the show that holds the audio device.
        def show_on_air(id) = @workspaces.show_on_air(id, @on_air)

        def refuse_over_take(over_take)
          running = !over_take && @running.now or return

          raise Needed.new("Take #{running["take"]["number"]} runs. Playing puts signals on lanes that it may record.")
        end

        def nobody = BadInput.new(field: "show", value: nil, allowed: "a show on air")

        # @return [Array<Integer>] of the recorder, odd and even
        def free_pair(show)
          Signal::Returns.free_pair(show) || raise(BadInput.new(field: "lanes", value: "none left", allowed: "a pair of lanes out that no return and no role uses and no audience hears, an odd one and the next"))
        end

        # Where each of them begins, one behind the other.
        def starts(takes) = takes.each_with_object([0]) { |take, all| all << all.last + take[:frames] }

        def program(show, takes, from_frame, repeat)
          take = takes.first
          pieces = takes.zip(starts(takes)).flat_map { |one, at| one[:files].map { |file| [[file[:track], file[:channel]], piece(one, file, at)] } }
          voices = pieces.group_by(&:first).filter_map do |(id, _), pairs|
            track = show.tracks[id]
            lane = Signal::Returns.lane(show, track&.place || id)
            {key: id, lanes: [lane], gain_db: (track && Signal::Returns.sum_db(show, track)) || 0.0, pieces: pairs.map(&:last)} if lane
          end
          raise BadInput.new(field: "take", value: take[:name], allowed: "a take whose tracks have return lanes") if voices.empty?

          {do: "play", label: take[:name], key: "take/#{take[:id]}", rate_hz: take[:sample_rate_hz], voices: voices, from_frame: from_frame, loop: (repeat ? [0] : nil)}
        end

        def piece(take, file, at) = {path: "takes/#{take[:folder]}/#{file[:file]}", at: at + file[:at_frames], channels: [file[:channel]]}

        def refuse_unrecorded(show, take, tracks)
          laid = show.tracks.values.select { |track| show.patch.slots[track.place] }
          lost = tracks.to_a - laid.map(&:id)
          raise BadInput.new(field: "tracks", value: lost.join(", "), allowed: "tracks of this show that have a lane") if lost.any?
          return if tracks || laid.any?(&:armed)

          raise BadInput.new(field: "armed", value: 0, allowed: "arm the tracks that are to be recorded over #{take[:name]}")
        end

        def origin_samples(take) = @keeper.log_of(take[:folder])&.time_reference_samples
      end
    end
  end
end
