# frozen_string_literal: true

module Loomshuttle
  module Server
    # What one line of events wants to hear of levels: how often, of which lanes, and whether of the
    # desk's channels and of the files that play. Lines that want the same are equal, so that it is put
    # together once for them all.
    #
    #   wanted = LevelsWanted.parse(rate_hz: "10", lanes: "1-12,17", desk: nil)
    #   wanted.of(frame)   # => levels of those 13 lanes
    class LevelsWanted < Value.of(rate_hz: nil, lanes: [], desk: false)
      # More than any device has.
      LANES_MAX = 1024
      private_constant :LANES_MAX

      # @param rate_hz [String, nil] nil for none
      # @param lanes [String, nil] numbers and ranges from 1, or "all"
      # @param desk [String, nil] "true"
      # @return [LevelsWanted]
      # @raise [BadInput]
      def self.parse(rate_hz:, lanes:, desk:)
        return new unless rate_hz

        new(rate_hz: rate_hz.to_i, lanes: (lanes == "all") ? nil : lanes.to_s.split(",").flat_map { |part| range(part) }.uniq.sort.freeze, desk: desk == "true")
      end

      def self.range(part)
        first, last = part.split("-").map(&:to_i)
        last ||= first
        raise BadInput.new(field: "lanes", value: part, allowed: "lanes from 1 to #{LANES_MAX}, a range's first before its last") unless first.between?(1, last) && last <= LANES_MAX

        (first..last).to_a
      end
      private_class_method :range

      # @param frame [Hash] LiveFeed#frame
      # @return [Hash] plain data; lanes is nil while nothing is known of them, desk_dbfs where the desk says nothing
      def of(frame)
        levels = of_lanes(frame[:meters])
        playing = frame.dig(:deck, "playing")
        levels[:position_frames] = playing["position_frames"] if playing
        return levels unless desk

        levels[:files_dbfs] = playing["peak_dbfs"] if playing
        levels.merge(desk_dbfs: frame[:desk][:peaks])
      end

      private

      def of_lanes(meters)
        return {lanes: nil} unless meters

        count = meters["peak_dbfs"].size
        heard = lanes ? lanes.take_while { |lane| lane <= count } : (1..count).to_a
        {lanes: ranges(heard), **meters.slice("peak_dbfs", "held_dbfs", "clips").to_h { |key, values| [key.to_sym, values.values_at(*heard.map { |lane| lane - 1 })] }}
      end

      # As they are asked for: "1-12,17".
      def ranges(heard) = heard.slice_when { |one, other| other != one + 1 }.map { |run| (run.size == 1) ? run.first : "#{run.first}-#{run.last}" }.join(",")
    end
  end
end
