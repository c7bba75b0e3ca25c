# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Plays takes and songs: works out from the patch which lane each track or role goes
      # to, and asks the deck. Records over what was recorded, aligned to the sample.
      class Play
        # The deck reads the first second of every file before it answers.
        ANSWER_S = 20
        private_constant :ANSWER_S

        def initialize(context, capture)
          @context = context
          @capture = capture
        end

        # @param over_take [Boolean] somebody was told that a take runs, and wants it all the same
        # @raise [BadInput] when no track of the take has a lane back
        def take(id, from_frame: 0, repeat: false, over_take: false)
          wish = program(@context.kept.show, @context.takes.find(@context.show_id, id), from_frame, repeat)
          refuse_over_take(over_take)
          @context.deck.ask(wish, seconds: ANSWER_S)
        end

        # Plays a take while further tracks are recorded into a new one, whose samples lie where
        # the musicians heard what they played to: what the way out and back takes is taken off.
        #
        # @return [Hash] id, number of the new take
        def overdub(id)
          show = @context.kept.show
          take = @context.takes.find(@context.show_id, id)
          played = armed_of(show)
          raise BadInput.new(field: "armed", value: 0, allowed: "arm the tracks that are to be recorded over #{take[:name]}") if played.empty?

          at_frame = @context.deck.ask(program(show, take, 0, false), seconds: ANSWER_S)["at_frame"]
          round_trip = @capture.session.round_trip_frames
          @capture.start(show, name: "Over #{take[:name]}", from_frame: at_frame + round_trip, origin_samples: origin_samples(take), over: take[:uid], preroll_s: 0)
        rescue BadInput, Runtime::Gone
          stop if at_frame
          raise
        end

        # @raise [BadInput] when a role of the song has no lane
        def song(id, over_take: false)
          show = @context.kept.show
          song = show.songs.find { |one| one.id == id } or raise BadInput.new(field: "song", value: id, allowed: show.songs.map(&:id).join(", "))
          voices = song.stems.map.with_index { |stem, at| {key: "#{stem.role}/#{at}", pieces: [{path: "songs/#{song.id}/#{stem.file}"}], lanes: role_lanes(show, stem)} }
          refuse_over_take(over_take)
          click = {bpm: song.bpm.to_f,
                   beats_per_bar: song.beats_per_bar,
                   rate_hz: song.sample_rate_hz,
                   frames: song.length_frames,
                   lane: role_lane(show, Show::CLICK_ROLE)}
          @context.deck.ask({do: "play", label: song.title, key: "song/#{song.id}", rate_hz: song.sample_rate_hz, voices: voices, click: click}, seconds: ANSWER_S)
        end

        def stop = @context.deck.ask({do: "stop"})
        def locate(frame) = @context.deck.ask({do: "locate", frame: frame})
        def loop(range) = @context.deck.ask({do: "loop", loop: range})

        # How long it is from an output lane to an input lane that hears it, and kept.
        #
        # @return [Hash] frames, ms, height_dbfs
        def measure(lane_out, lane_in)
          found = @context.deck.ask({do: "measure", lane_out: lane_out, lane_in: lane_in}, seconds: ANSWER_S)
          name = "session/#{@context.show_id}"
          @context.settings.write(name, @context.settings.read(name).merge("round_trip_frames" => found["frames"]))
          found
        end

        private

        def refuse_over_take(over_take)
          running = !over_take && @context.running_take or return

          raise Needed.new("Take #{running["take"]["number"]} runs. Playing puts signals on lanes that it may record.")
        end

        def program(show, take, from_frame, repeat)
          pieces = take[:files].group_by { |file| [file[:track], file[:channel]] }
          voices = pieces.filter_map do |(track, channel), files|
            lane = Signal::Returns.lane(show, show.tracks[track]&.place || track)
            {key: track, lanes: [lane], pieces: files.map { |file| {path: "takes/#{take[:folder]}/#{file[:file]}", at: file[:at_frames], channels: [channel]} }} if lane
          end
          raise BadInput.new(field: "take", value: take[:name], allowed: "a take whose tracks have return lanes") if voices.empty?

          {do: "play", label: take[:name], key: "take/#{take[:id]}", rate_hz: take[:sample_rate_hz], voices: voices, from_frame: from_frame, loop: (repeat ? [0] : nil)}
        end

        def armed_of(show) = show.tracks.values.select { |track| track.armed && show.patch.slots[track.place] }

        def origin_samples(take) = @context.keeper.log_of(take[:folder])&.time_reference_samples

        def role_lane(show, role)
          Signal::Returns.lane(show, Endpoint.id("songs", "role", role)) or raise BadInput.new(field: "role", value: role, allowed: "lay every role of the song on a lane first")
        end

        # One lane takes the sum of a stereo stem, neither side is lost.
        def role_lanes(show, stem) = [role_lane(show, stem.role)]
      end
    end
  end
end
