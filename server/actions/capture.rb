# frozen_string_literal: true

require "securerandom"

module Loomshuttle
  module Server
    module Actions
      # Starts, stops and annotates takes. The engine begins a take and writes its journal; the
      # database's row is read from that, so that neither is ever there without the other.
      class Capture
        def initialize(context)
          @context = context
        end

        # @return [Hash] id, number
        # @raise [BadInput] when nothing is armed, the disk is full or the engine refuses
        # @raise [Runtime::Gone] when the engine does not answer; it does not begin later then
        def start(show = @context.kept.show, **more)
          plan = plan(show, **more)
          refuse_unarmed(plan)
          refuse_full(plan)
          begun(@context.engine.ask({do: "record", plan: plan.to_data}))
        end

        # @return [Hash] what was stopped
        def stop
          stopped = @context.engine.ask({do: "stop"}, seconds: 20)
          @context.keeper.look_at(stopped["folder"]) if stopped.is_a?(Hash) && stopped["folder"]
          stopped
        end

        # What an edit, an undo or a redo did to tracks holds in the take that runs too: arming begins
        # or ends a stretch, files follow their names.
        #
        # @param before, after [Show]
        def follow(before, after)
          take = @context.running_take or return
          known = keys_of(take)
          armed = after.tracks.values.select { |track| before.tracks[track.id] && before.tracks[track.id].armed != track.armed }
          armed.group_by(&:armed).each { |on, tracks| arm_running(after, known, tracks.map(&:id), on) }
          names = session.tracks(before).to_h { |track| [track.key, track.name] }
          renamed = session.tracks(after).select { |track| known.include?(track.key) && names.key?(track.key) && names[track.key] != track.name }
          renamed.each { |track| @context.engine.ask({do: "named", track: track.key, name: track.name}) }
        rescue BadInput, Runtime::Gone
          # The take has just ended, or its engine: then there is nothing to follow, and that is told otherwise.
          nil
        end

        def mark(label) = @context.engine.ask({do: "mark", id: SecureRandom.hex(6), label: label})
        def reset_peaks(lanes) = @context.engine.ask({do: "reset_peaks", lanes: lanes})
        def places = @context.engine.ask({do: "places"})

        # Names, notes and marks of a take, running or over.
        #
        # @param given [Hash] name, notes, mark {id, label, frame, gone}
        def amend(id, given)
          take = @context.takes.find(@context.show_id, id)
          raise BadInput.new(field: "take", value: take[:name], allowed: "a recorded take; an imported one has no journal") unless take[:origin] == "recorded"

          running?(take) ? amend_running(given) : amend_closed(take, given)
          @context.keeper.look_at(take[:folder])
        end

        # @return [Array<Hash>] files that were renamed
        def rename(id, track, name)
          take = @context.takes.find(@context.show_id, id)
          key = take[:files].find { |file| file[:track] == track } && track
          raise BadInput.new(field: "track", value: track, allowed: "a track of this take") unless key
          return @context.engine.ask({do: "named", track: track, name: name}) if running?(take)

          @context.engine.ask({do: "rename", folder: take[:folder], track: track, name: name}).tap { @context.keeper.look_at(take[:folder]) }
        end

        def session = @context.session

        private

        def arm_running(show, known, tracks, on)
          keys = session.tracks(show).select { |track| track.sides.any? { |side| tracks.include?(side[:track]) } }.map(&:key) & known
          @context.engine.ask({do: "arm", tracks: keys, on: on}) if keys.any?
        end

        def plan(show, name: nil, from_frame: nil, origin_samples: nil, over: nil, preroll_s: nil)
          session = session()
          number = @context.takes.next_number(@context.show_id)
          now = @context.clock.call
          Loomshuttle::Capture::TakePlan.new(uid: SecureRandom.uuid, number: number, show: Loomshuttle::Capture::FileName.folder(show.name), show_id: @context.show_id,
            name: name || "Take #{number}", sample_rate_hz: show.sample_rate_hz, tracks: session.tracks(show), encoding: session.encoding, copy: session.copy,
            preroll_s: preroll_s || session.preroll_s, carry_on: session.carry_on, margin_bytes: session.margin_bytes, from_frame: from_frame, origin_samples: origin_samples,
            utc_offset_s: now.utc_offset, over: over)
        end

        def refuse_unarmed(plan)
          return if plan.tracks.any?(&:armed)

          raise BadInput.new(field: "armed", value: 0, allowed: "arm at least one track that has a lane")
        end

        # A minute must fit, or the take is not worth starting.
        def refuse_full(plan)
          sides = plan.tracks.select(&:armed).sum { |track| track.lanes.size }
          free = @context.free_bytes or raise BadInput.new(field: "disk", value: "takes", allowed: "a folder for takes that can be looked at")
          left_s = Loomshuttle::Capture::DiskBudget.seconds_left(free, sides, plan.sample_rate_hz, margin_bytes: plan.margin_bytes, bytes: plan.sample_bytes)
          return if left_s >= 60

          raise BadInput.new(field: "disk", value: "#{left_s.round} s left", allowed: "room for at least 60 s of #{sides} tracks over the margin of #{plan.margin_bytes / 1_000_000} MB")
        end

        def begun(answer)
          id = @context.keeper.look_at(answer["folder"])
          @context.hub.publish("takes", id: id)
          {id: id, number: answer["number"], uid: answer["uid"], start_frame: answer["start_frame"]}
        end

        def keys_of(take)
          @context.keeper.log_of(take.dig("take", "folder"))&.plan&.tracks.to_a.map(&:key)
        end

        def running?(take) = @context.running_take&.dig("take", "uid") == take[:uid]

        def amend_running(given)
          named = given.slice("name", "notes")
          @context.engine.ask({do: "named", **named.transform_keys(&:to_sym)}) if named.any?
          mark = given["mark"] or return
          @context.engine.ask(mark["gone"] ? {do: "unmark", id: mark["id"]} : {do: "relabel", id: mark["id"], label: mark["label"].to_s})
        end

        def amend_closed(take, given)
          lines = []
          lines << {what: "named", **given.slice("name", "notes").transform_keys(&:to_sym)} if given.key?("name") || given.key?("notes")
          lines << mark_line(take, given["mark"]) if given["mark"]
          @context.engine.ask({do: "amend", folder: take[:folder], lines: lines}) if lines.any?
        end

        # Frames of the journal are the device's; a take's first one is 0 elsewhere.
        def mark_line(take, mark)
          return {what: "unmarked", id: mark["id"]} if mark["gone"]
          return {what: "marked", id: mark["id"], label: mark["label"].to_s} if mark["id"]

          start = @context.keeper.log_of(take[:folder]).start_frame
          {what: "mark", id: SecureRandom.hex(6), label: mark["label"].to_s, frame: start + mark["frame"].to_i}
        end
      end
    end
  end
end
