# frozen_string_literal: true

module Loomshuttle
  module Server
    # What one line of events wants to hear of levels: how often, of which lanes, and whether of the
    # desk's channels. Lines that want the same are equal, so that it is put together once for them all.
    #
    #   wanted = LevelsWanted.parse(rate_hz: "10", lanes: "1-12,17", desk: nil)
    #   wanted.of(frame)   # => the frame with levels of those 13 lanes
    class LevelsWanted < Value.of(rate_hz: nil, lanes: [], desk: false)
      # More than any device has.
      LANES_MAX = 1024
      private_constant :LANES_MAX

      # @param rate_hz [String, nil] nil for the state alone, when it changes
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
      # @return [Hash]
      def of(frame)
        frame.merge(meters: rate_hz && frame[:meters]&.then { |meters| of_lanes(meters) }, desk: desk ? frame[:desk] : frame[:desk].merge(peaks: nil))
      end

      private

      def of_lanes(meters)
        known = (1..meters["peak_dbfs"].size).to_a
        heard = lanes ? known & lanes : known
        {lanes: heard, **meters.slice("peak_dbfs", "rms_dbfs", "held_dbfs", "clips").transform_values { |values| values.values_at(*heard.map { |lane| lane - 1 }) }}
      end
    end
  end
end
