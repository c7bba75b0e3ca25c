# frozen_string_literal: true

require "securerandom"

module Loomshuttle
  module Server
    module Actions
      # Starts, stops and annotates takes. The engine begins a take and writes its journal; the
      # database's row is read from that, so that neither is ever there without the other.
      class Capture
        # @param workspaces [Workspaces]
        # @param takes [Store::Takes]
        # @param engine [Links::ControlLink]
        # @param keeper [TakesKeeper]
        # @param on_air [Store::OnAir]
        # @param running [RunningTake]
        def initialize(workspaces:, takes:, engine:, keeper:, on_air:, running:, clock:)
          @workspaces, @takes, @engine, @keeper, @on_air, @running, @clock = workspaces, takes, engine, keeper, on_air, running, clock
        end

        # @param id [Integer] of the show
        # @param on_recorder [Boolean] somebody was told that the desk listens to the recorder, and records all the same
        # @return [Hash] id, number
        # @raise [Needed] while a desk listens to the recorder
        # @raise [BadInput] when the show is not on air, nothing is armed, the disk is full or the engine refuses
        # @raise [Runtime::Gone] when the engine does not answer; it does not begin later then
        def start(id, on_recorder: false, **more)
          refuse_off_air(id)
          refuse_on_recorder(@workspaces[id].show) unless on_recorder
          plan = plan(@workspaces[id], **more)
          refuse_unarmed(plan)
          refuse_full(@workspaces[id], plan)
          begun(@engine.ask({do: "record", plan: plan.to_data}))
        end

        # @return [Hash] what was stopped
        def stop
          stopped = @engine.ask({do: "stop"}, seconds: 20)
          @keeper.look_at(stopped["folder"]) if stopped.is_a?(Hash) && stopped["folder"]
          stopped
        end

        # What an edit, an undo or a redo did to tracks holds in the take that runs too: arming begins
        # or ends a stretch, files follow their names, and whoever listens to it later finds in it what was
        # patched meanwhile.
        #
        # @param id [Integer] of the show
        # @param before, after [Show]
        def follow(id, before, after, label)
          take = @running.of(id) or return
          note(before, after, label)
          known = keys_of(take)
          tracks = @workspaces[id].session.tracks(after)
          armed = after.tracks.values.select { |track| before.tracks[track.id] && before.tracks[track.id].armed != track.armed }
          armed.group_by(&:armed).each { |on, changed| arm_running(tracks, known, changed.map(&:id), on) }
          names = @workspaces[id].session.tracks(before).to_h { |track| [track.key, track.name] }
          renamed = tracks.select { |track| known.include?(track.key) && names.key?(track.key) && names[track.key] != track.name }
          renamed.each { |track| @engine.ask({do: "named", track: track.key, name: track.name}) }
        rescue BadInput, Runtime::Gone
          # The take has just ended, or its engine: then there is nothing to follow, and that is told otherwise.
          nil
        end

        # Neither a take nor an armed track is begun by accident while nobody on stage is heard.
        #
        # @raise [Needed]
        def refuse_on_recorder(show)
          desks = show.rig.all_of("desk").select { |desk| Signal::Feed.of_desk(show, desk.id) == :recorder }
          return if desks.empty?

          names = Loomshuttle::Words::Runs.list(desks.map(&:name))
          raise Needed.new("#{names} #{(desks.size == 1) ? "listens" : "listen"} to the recorder: what plays from disk would be recorded, or nothing, and nobody on stage is heard.", field: "on_recorder")
        end

        def mark(label) = @engine.ask({do: "mark", id: SecureRandom.hex(6), label: label})
        def reset_peaks(lanes) = @engine.ask({do: "reset_peaks", lanes: lanes})
        def places = @engine.ask({do: "places"})

        # Names, notes and marks of a take, running or over.
        #
        # @param given [Hash] name, notes, mark {id, label, frame, gone}
        def amend(show_id, id, given)
          take = @takes.find(show_id, id)
          raise BadInput.new(field: "take", value: take[:name], allowed: "a recorded take; an imported one has no journal") unless take[:origin] == "recorded"

          running?(take) ? amend_running(given) : amend_closed(take, given)
          @keeper.look_at(take[:folder])
        end

        # @return [Array<Hash>] files that were renamed
        def rename(show_id, id, track, name)
          take = @takes.find(show_id, id)
          key = take[:files].find { |file| file[:track] == track } && track
          raise BadInput.new(field: "track", value: track, allowed: "a track of this take") unless key
          return @engine.ask({do: "named", track: track, name: name}) if running?(take)

          @engine.ask({do: "rename", folder: take[:folder], track: track, name: name}).tap { @keeper.look_at(take[:folder]) }
        end

        private

        def arm_running(tracks, known, changed, on)
          keys = tracks.select { |track| track.sides.any? { |side| changed.include?(side[:track]) } }.map(&:key) & known
          @engine.ask({do: "arm", tracks: keys, on: on}) if keys.any?
        end

        def note(before, after, label)
          changes = Loomshuttle::Compare::Patches.of(after, before.patch, after.patch).map { |change| change[:words] }
          @engine.ask({do: "patch", words: [label, *changes].first(4).join("; ")[0, 900]}, seconds: 2)
        end

        # @param only [Array<String>, nil] tracks that are recorded, whichever are armed
        def plan(workspace, name: nil, only: nil, preroll_s: nil, **more)
          session, show = workspace.session, workspace.show
          number = @takes.next_number(workspace.id)
          tracks = session.tracks(show).map { |track| Loomshuttle::Capture::Origin.noted(show, track) }
          tracks = tracks.map { |track| track.with(armed: only.intersect?([track.key, *track.sides.map { |side| side[:track] }])) } if only
          Loomshuttle::Capture::TakePlan.new(uid: SecureRandom.uuid, number: number, show: workspace.place[:folder], show_uid: workspace.place[:uid],
            name: name || "Take #{number}", sample_rate_hz: show.sample_rate_hz, tracks: tracks, encoding: session.encoding, copy: session.copy,
            preroll_s: preroll_s || session.preroll_s, carry_on: session.carry_on, margin_bytes: session.margin_bytes,
            utc_offset_s: @clock.call.utc_offset, **more)
        end

        # Desk and audio device are held by one show; nothing is recorded for another by mistake.
        def refuse_off_air(id)
          return if @on_air.on_air?(id)

          raise BadInput.new(field: "show", value: @workspaces[id].show.name, allowed: "the show on air; put this one on air first")
        end

        def refuse_unarmed(plan)
          return if plan.tracks.any?(&:armed)

          raise BadInput.new(field: "armed", value: 0, allowed: "arm at least one track that has a lane")
        end

        # A minute must fit, or the take is not worth starting.
        def refuse_full(workspace, plan)
          sides = plan.tracks.select(&:armed).sum { |track| track.lanes.size }
          free = workspace.free_bytes or raise BadInput.new(field: "disk", value: "takes", allowed: "a folder for takes that can be looked at")
          left_s = Loomshuttle::Capture::DiskBudget.seconds_left(free, sides, plan.sample_rate_hz, margin_bytes: plan.margin_bytes, bytes: plan.sample_bytes)
          return if left_s >= 60

          raise BadInput.new(field: "disk", value: "#{left_s.round} s left", allowed: "room for at least 60 s of #{sides} tracks over the margin of #{plan.margin_bytes / 1_000_000} MB")
        end

        def begun(answer)
          id = @keeper.look_at(answer["folder"])
          {id: id, number: answer["number"], uid: answer["uid"], start_frame: answer["start_frame"]}
        end

        def keys_of(take)
          @keeper.log_of(take.dig("take", "folder"))&.plan&.tracks.to_a.map(&:key)
        end

        def running?(take) = @running.now&.dig("take", "uid") == take[:uid]

        def amend_running(given)
          named = given.slice("name", "notes")
          @engine.ask({do: "named", **named.transform_keys(&:to_sym)}) if named.any?
          mark = given["mark"] or return
          @engine.ask(mark["gone"] ? {do: "unmark", id: mark["id"]} : {do: "relabel", id: mark["id"], label: mark["label"].to_s})
        end

        def amend_closed(take, given)
          lines = []
          lines << {what: "named", **given.slice("name", "notes").transform_keys(&:to_sym)} if given.key?("name") || given.key?("notes")
          lines << mark_line(take, given["mark"]) if given["mark"]
          @engine.ask({do: "amend", folder: take[:folder], lines: lines}) if lines.any?
        end

        # Frames of the journal are the device's; a take's first one is 0 elsewhere.
        def mark_line(take, mark)
          return {what: "unmarked", id: mark["id"]} if mark["gone"]
          return {what: "marked", id: mark["id"], label: mark["label"].to_s} if mark["id"]

          start = @keeper.log_of(take[:folder]).start_frame
          {what: "mark", id: SecureRandom.hex(6), label: mark["label"].to_s, frame: start + mark["frame"].to_i}
        end
      end
    end
  end
end
