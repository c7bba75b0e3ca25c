# frozen_string_literal: true

module Loomshuttle
  module Music
    # A time signature: so many beats of a note value a bar.
    #
    #   Meter.parse("6/8").bar_quarters   # => (3/1)
    Meter = Value.of(:beats, :unit)

    class Meter
      BEATS = (1..64)
      UNITS = [1, 2, 4, 8, 16, 32, 64].freeze

      # @param text [String] as in "6/8"
      # @raise [BadInput]
      def self.parse(text)
        beats, unit = text.to_s.match(%r{\A\s*(\d{1,3})\s*/\s*(\d{1,3})\s*\z})&.captures&.map(&:to_i)
        return new(beats: beats, unit: unit) if beats && BEATS.cover?(beats) && UNITS.include?(unit)

        raise BadInput.new(field: "meter", value: text, allowed: "#{BEATS.min} to #{BEATS.max} beats of a #{UNITS.map { |one| "1/#{one}" }.join(", ")}, as in 4/4 or 6/8")
      end

      # @return [Rational] quarter notes
      def beat_quarters = Rational(4, unit)
      def bar_quarters = beats * beat_quarters
      def to_s = "#{beats}/#{unit}"
    end
  end
end
