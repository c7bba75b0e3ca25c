# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Lets a browser listen to a take: one track, or a rough mix of all, streamed by range.
      class Listen
        # A Rack body that renders while it is read, and closes its files when it is done.
        Body = Struct.new(:listening, :from, :to) do
          def each(&block) = listening.each(from, to, &block)
          def close = listening.close
        end

        # @param takes [Store::Takes]
        # @param takes_folder [String]
        def initialize(takes:, takes_folder:)
          @takes, @takes_folder = takes, takes_folder
        end

        # @param track [String, nil] nil mixes all
        # @param range [String, nil] the request's Range header
        # @return [Array] status, headers, body, as Rack has it
        def call(show_id, id, track, range)
          take = @takes.find(show_id, id)
          listening = listening(take, track)
          from, to = bytes(range, listening.bytes)
          return outside(listening) unless from

          headers = {"content-type" => "audio/wav", "accept-ranges" => "bytes", "content-length" => (to - from).to_s, "cache-control" => "no-store"}
          headers["content-range"] = "bytes #{from}-#{to - 1}/#{listening.bytes}" if range
          [range ? 206 : 200, headers, Body.new(listening, from, to)]
        end

        private

        def listening(take, track)
          chosen = take[:files].select { |file| track.nil? || file[:track] == track }
          opened = []
          voices = chosen.group_by { |file| [file[:track], file[:channel]] }.map { |(key, channel), files| voice(take, key, channel, files, opened) }
          raise BadInput.new(field: "track", value: track, allowed: "a track of this take") if voices.empty?

          program = Render::Program.new(label: take[:name], rate_hz: take[:sample_rate_hz], voices: voices, length_frames: [voices.map(&:end_frames).max, 1].max)
          # What is unrelated adds up by its power (common practice: 3 dB a doubling).
          Render::Listening.new(program, gain: 1 / Math.sqrt(voices.size))
        rescue SystemCallError => e
          opened&.each(&:close)
          raise BadInput.new(field: "take", value: take[:name], allowed: "a take whose files are there; one says: #{e.message}")
        end

        def voice(take, key, channel, files, opened)
          pieces = files.map do |file|
            path = Runtime::Inside.path(@takes_folder, "#{take[:folder]}/#{file[:file]}")
            [file[:at_frames], Files::WavSource.new(path, channels: [channel]).tap { |source| opened << source }]
          end
          Render::Voice.new(key: key, source: Both.new(Render::Pieced.new(pieces)), lanes: [1, 2])
        end

        # One channel on both sides.
        Both = Struct.new(:source) do
          def frames = source.frames
          def channels = 2
          def read(from, count) = source.read(from, count).then { |one| one.concatenate(one, axis: 0) }
          def close = source.close
        end
        private_constant :Both

        # RFC 9110: one range of bytes; several are not given.
        def bytes(range, length)
          return [0, length] unless range

          first, last = range.match(/\Abytes=(\d*)-(\d*)\z/)&.captures
          return nil if first.nil? || (first.empty? && last.empty?)
          return [[length - last.to_i, 0].max, length] if first.empty?

          [first.to_i, last.empty? ? length : [last.to_i + 1, length].min] if first.to_i < length
        end

        def outside(listening)
          listening.close
          [416, {"content-range" => "bytes */#{listening.bytes}", "content-type" => "text/plain"}, ["outside"]]
        end
      end
    end
  end
end
