# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Starts and stops takes. The database knows of a take before the engine begins it,
      # and forgets it again when the engine refuses.
      class Capture
        def initialize(context)
          @context = context
        end

        # @return [Integer] the take's id
        # @raise [BadInput] when nothing is armed, the disk is full or the engine refuses
        def start
          show = @context.kept.show
          armed = armed_tracks(show)
          check_disk(armed.size, show.sample_rate_hz)
          number = @context.takes.next_number(@context.show_id)
          begin_take(show, armed, number)
        end

        def stop = @context.engine.ask(do: "stop")

        private

        def armed_tracks(show)
          armed = show.tracks.values.select(&:armed).filter_map do |track|
            lane = show.patch.slots[track.id]&.from
            [track, Endpoint.parse(lane).number] if lane
          end
          raise BadInput.new(field: "armed", value: 0, allowed: "arm at least one track that has a lane") if armed.empty?

          armed
        end

        # A minute must fit, or the take is not worth starting.
        def check_disk(tracks, rate_hz)
          left_s = Loomshuttle::Capture::DiskBudget.seconds_left(@context.free_bytes, tracks, rate_hz)
          if left_s < 60
            raise BadInput.new(field: "disk", value: "#{left_s.round} s left", allowed: "room for at least 60 s of #{tracks} tracks")
          end
        end

        def begin_take(show, armed, number)
          folder = format("%s/take-%03d", Loomshuttle::Capture::FileName.folder(show.name), number)
          files = armed.map { |track, lane|
            {file: Loomshuttle::Capture::FileName.of(track.number, track.name),
             name: track.name,
             track: track.id,
             lane: lane}
          }
          id = @context.takes.create({show_id: @context.show_id,
            number: number,
            folder: folder,
            name: "Take #{number}",
            origin: "recorded",
            sample_rate_hz: show.sample_rate_hz,
            state: "recording"},
            files.map { |file| file.slice(:track, :file, :name).merge(channel: 1) })
          @context.engine.ask(do: "record", folder: folder, take: description(show, id, number, files))
          @context.hub.publish("takes", id: id)
          id
        rescue BadInput, Links::EngineLink::Gone
          @context.takes.delete(id) if id
          raise
        end

        def description(show, id, number, files)
          now = @context.clock.call
          midnight = Time.new(now.year, now.month, now.day, 0, 0, 0, now.utc_offset)
          {id: id,
           number: number,
           sample_rate_hz: show.sample_rate_hz,
           time_reference_samples: ((now - midnight) * show.sample_rate_hz).round,
           date: now.strftime("%Y-%m-%d"),
           time: now.strftime("%H:%M:%S"),
           files: files}
        end
      end
    end
  end
end
