# frozen_string_literal: true

module Loomshuttle
  module Cli
    # The figures of the `budget` command, all computed by the core.
    module Budget
      module_function

      # @return [Hash] plain data; every name carries its unit
      # @raise [BadInput] for a figure that makes no sense
      def of(show, free_bytes:, buffer_frames:, distance_m:, temperature_c:)
        check("buffer", buffer_frames, 1..65_536, "frames")
        check("distance", distance_m, 0.0..10_000.0, "m")
        check("temperature", temperature_c, Audio::Timing::TEMPERATURES_C, "degrees Celsius")
        {sample_rate_hz: show.sample_rate_hz, links: links(show), disk: disk(show, free_bytes),
         buffer: {frames: buffer_frames, latency_ms: Audio::Timing.buffer_ms(buffer_frames, show.sample_rate_hz).round(2)},
         distance: {distance_m: distance_m,
                    temperature_c: temperature_c,
                    speed_of_sound_m_per_s: Audio::Timing.speed_of_sound_m_per_s(temperature_c).round(1),
                    delay_ms: Audio::Timing.distance_ms(distance_m, temperature_c).round(2)}}
      end

      def check(field, value, range, unit)
        raise BadInput.new(field: field, value: value, allowed: "#{range.min} to #{range.max} #{unit}") unless range.cover?(value)
      end

      def links(show)
        show.rig.cables.map do |cable|
          {a: cable.a,
           b: cable.b,
           standard: show.rig.port(cable.a).last.standard,
           **Signal::LinkBudget.of(show, cable).slice(:lanes, :a_to_b, :b_to_a, :lost),
           lanes_at_96_khz: show.rig.lanes_of(cable, 96_000)}
        end
      end

      def disk(show, free_bytes)
        armed = show.tracks.values.count(&:armed)
        left_s = Capture::DiskBudget.seconds_left(free_bytes, armed, show.sample_rate_hz)
        rate = Capture::DiskBudget.rate_bytes_per_s(armed, show.sample_rate_hz)
        {armed_tracks: armed,
         bytes_per_s: rate,
         gb_per_hour: (rate * 3600 / 1e9).round(2),
         free_bytes: free_bytes,
         hours_left: left_s && (left_s / 3600).round(2)}
      end

      # @return [Array<String>] the same for people
      def words(report)
        [*report[:links].map { |link| "#{link[:a]} to #{link[:b]}: #{link[:standard]}, #{link[:a_to_b]} + #{link[:b_to_a]} of #{link[:lanes]} lanes used each way, #{link[:lanes_at_96_khz]} at 96 kHz#{", LOST: #{link[:lost].join(", ")}" if link[:lost].any?}" },
          "disk: #{report[:disk][:armed_tracks]} tracks write #{report[:disk][:gb_per_hour]} GB an hour#{", #{report[:disk][:hours_left]} hours left" if report[:disk][:hours_left]}",
          "buffer: #{report[:buffer][:frames]} frames are #{report[:buffer][:latency_ms]} ms at #{report[:sample_rate_hz]} Hz",
          "distance: #{report[:distance][:distance_m]} m at #{report[:distance][:temperature_c]} degrees Celsius are #{report[:distance][:delay_ms]} ms"]
      end
      private_class_method :check, :links, :disk
    end
  end
end
