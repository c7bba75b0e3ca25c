# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Proves by ear what comes back from the recorder: the deck sends each return lane its own sequence, the ear says
      # which of them arrive on which lane to the recorder, and that is kept beside the show.
      class Ping
        # The deck makes the first second ready; the ear hears all of it and works it out.
        DECK_S = 20
        EAR_S = 60
        LEVEL_DBFS = -30
        private_constant :DECK_S, :EAR_S, :LEVEL_DBFS

        # @param soundchecks [Store::Beside]
        # @param workspaces [Workspaces]
        # @param on_air [Store::OnAir]
        # @param running [RunningTake]
        # @param deck, ear [Links::ControlLink]
        # @param desk_link [Links::DeskLink]
        # @param clock [#call] => Time
        def initialize(soundchecks:, workspaces:, on_air:, running:, deck:, ear:, desk_link:, clock:)
          @soundchecks, @workspaces, @on_air, @running, @deck, @ear, @desk_link, @clock = soundchecks, workspaces, on_air, running, deck, ear, desk_link, clock
          @one = Mutex.new
        end

        # @param wish [Hash] PingWish of the contract, string keys
        # @param who [String]
        # @return [Store::Beside::Kept]
        # @raise [BadInput, Runtime::Gone, Links::DeskLink::Failed]
        def call(show_id, wish, who)
          show = @workspaces[show_id].show
          way = Soundcheck::WayBack.of(show)
          refuse(show_id, show, way, wish)
          raise busy unless @one.try_lock

          begin
            heard = muted(show_id, show, wish["outputs"] == "mute") { heard(show, way, wish) }
            keep(show_id, show, way, heard, wish, who)
          ensure
            @one.unlock
          end
        end

        # Opens the channels again that a ping muted and did not open: it broke off in between.
        def open_again(show_id)
          muted = @soundchecks.of(show_id).state.muted
          muted.each { |channel| @desk_link.control("/mute", channel, 0) }
          @soundchecks.change(show_id) { |state| state.with(muted: (state.muted - muted).freeze) }
        end

        # Whether channels are left muted though no ping runs here.
        def busy? = @one.locked?

        private

        def refuse(show_id, show, way, wish)
          raise BadInput.new(field: "show", value: show.name, allowed: "the show on air; put this one on air first") unless @on_air.on_air?(show_id)
          raise BadInput.new(field: "returns", value: 0, allowed: "a show whose tracks go back to the desk over lanes") if way.returns.empty?

          take = @running.now
          raise BadInput.new(field: "take", value: take.dig("take", "number"), allowed: "no take that runs: the ping could be recorded into it; stop it first") if take
          refuse_other_desks(show, way) if wish["outputs"] == "mute"
          return unless wish["outputs"] == "mute" && way.ears.empty? && way.mixes.any?

          raise BadInput.new(field: "outputs", value: "mute", allowed: "outputs muted by hand, behind the desk: here only a mix could hear what comes back, and muted channels do not reach it")
        end

        # The control line is the first desk's alone.
        def refuse_other_desks(show, way)
          first, *others = show.rig.all_of("desk")
          hearing = others.select { |desk| way.returns.any? { |one| one.channels.any? { |channel| channel.start_with?("#{desk.id}/") } } }
          return if hearing.empty?

          raise BadInput.new(field: "outputs", value: "mute", allowed: "outputs muted by hand: #{Loomshuttle::Words::Runs.list(hearing.map(&:name))} would sound, only #{first.name} is muted from here")
        end

        def busy = BadInput.new(field: "ping", value: nil, allowed: "one ping at a time; another one is being sent")

        # @return [Hash{Integer => Soundcheck::Proof::Heard}] by lane in
        def heard(show, way, wish)
          quick = wish.fetch("quick", false)
          groups = way.returns.map(&:lane).each_slice(Loomshuttle::Ear::Sequence::LANES).to_a
          groups = groups.first(1) if quick
          pings = groups.map { |lanes| ping(show, way.lanes_in, lanes, level(wish), quick) }
          way.lanes_in.zip(pings.transpose).to_h { |lane, found| [lane, together(found)] }
        end

        # @return [Array<Hash>] one an input, as the ear says it, with the numbers of the lanes that were sent
        def ping(show, inputs, lanes, level_dbfs, quick)
          length = Soundcheck::Proof::QUICK_LENGTH if quick
          sent = @deck.ask({do: "ping", lanes: lanes, level_dbfs: level_dbfs, frames: length}.compact, seconds: DECK_S)
          refuse_rate(show, sent)
          found = @ear.ask({do: "ping", at_frame: sent["at_frame"], inputs: inputs, lanes: lanes.size, level_dbfs: level_dbfs, quick: quick}, seconds: EAR_S)
          sounded!(sent)
          found.map { |one| {**one, "pings" => one.fetch("pings", []).map { |sequence, *rest| [lanes[sequence - 1], *rest] }} }
        ensure
          stop if sent
        end

        # What never sounded is not dead at the desk: the deck was late, or died.
        def sounded!(sent)
          return if @deck.ask({do: "pinged"}).values_at("at_frame", "late_blocks") == [sent["at_frame"], 0]

          raise BadInput.new(field: "device", value: nil, allowed: "a deck that plays in time; a part of the ping was not ready and stayed silent, send it again")
        end

        def refuse_rate(show, sent)
          return if sent["rate_hz"] == show.sample_rate_hz

          raise BadInput.new(field: "rate_hz", value: sent["rate_hz"], allowed: "the show's #{show.sample_rate_hz} Hz; the audio device runs at another rate")
        end

        # The next one begins when nothing sounds any more; a deck that died sounds no more either.
        def stop
          @deck.ask({do: "stop"})
        rescue BadInput, Runtime::Gone
          nil
        end

        # Of more lanes than go at once.
        def together(all)
          pings, floors, gains = %w[pings floor_db gain_db].map { |name| all.map { |one| one[name] } }
          Soundcheck::Proof.heard({"pings" => pings.flatten(1), "floor_db" => floors.max, "gain_db" => gains.compact.max})
        end

        def level(wish) = wish.fetch("level_dbfs", LEVEL_DBFS)

        # With the desk's channels muted while it sounds, as far as they were open.
        def muted(show_id, show, asked)
          return yield unless asked

          open = show.rig.all_of("desk").first.then { |desk| show.channels_of(desk) } - @desk_link.controls[:mute]
          @soundchecks.change(show_id) { |state| state.with(muted: (state.muted | open).freeze) }
          begin
            open.each { |channel| @desk_link.control("/mute", channel, 1) }
            yield
          ensure
            open_again(show_id)
          end
        end

        def keep(show_id, show, way, heard, wish, who)
          proof = Soundcheck::Proof.new(way: way.digest, heard: heard.freeze, at: @clock.call.utc.iso8601, who: who, quick: wish.fetch("quick", false), level_dbfs: level(wish), rate_hz: show.sample_rate_hz)
          trip = proof.round_trip_frames
          @workspaces[show_id].keep_session("round_trip_frames" => trip) if trip
          @soundchecks.change(show_id) { |state| state.with(proof: proof) }
        end
      end
    end
  end
end
