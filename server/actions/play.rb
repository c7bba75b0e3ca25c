# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Plays takes and songs: works out from the patch which lane each track or role goes
      # to, and asks the engine.
      class Play
        def initialize(context)
          @context = context
        end

        # @raise [BadInput] when no track of the take has a lane back
        def take(id, from_frame: 0, repeat: false)
          show = @context.kept.show
          take = @context.takes.find(@context.show_id, id)
          files = take[:files].filter_map do |file|
            lane = lane_of(show, file[:track])
            {path: "takes/#{take[:folder]}/#{file[:file]}", channel: file[:channel], lane: lane} if lane
          end
          raise BadInput.new(field: "take", value: take[:name], allowed: "a take whose tracks have return lanes") if files.empty?

          @context.engine.ask(do: "play", label: take[:name], files: files, from_frame: from_frame, repeat: repeat)
        end

        # @raise [BadInput] when a role of the song has no lane
        def song(id)
          show = @context.kept.show
          song = show.songs.find { |one| one.id == id } or raise BadInput.new(field: "song", value: id, allowed: show.songs.map(&:id).join(", "))
          files = song.stems.map { |stem| {path: "songs/#{song.id}/#{stem.file}", channel: 1, lane: role_lane(show, stem.role)} }
          click = {bpm: song.bpm,
                   beats_per_bar: song.beats_per_bar,
                   rate_hz: song.sample_rate_hz,
                   frames: song.length_frames,
                   lane: role_lane(show, Show::CLICK_ROLE)}
          @context.engine.ask(do: "play", label: song.title, files: files, click: click)
        end

        def stop = @context.engine.ask(do: "stop_playing")

        private

        def lane_of(show, source_id)
          slot = show.patch.slots.find { |_, take| take.from == source_id }&.first
          slot && Endpoint.parse(slot).number
        end

        def role_lane(show, role)
          lane_of(show, Endpoint.id("songs", "role", role)) or raise BadInput.new(field: "role", value: role, allowed: "lay every role of the song on a lane first")
        end
      end
    end
  end
end
