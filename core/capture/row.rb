# frozen_string_literal: true

module Loomshuttle
  module Capture
    # One source of the input list.
    #
    # id       never changes, whatever the row is called and wherever it stands
    # number   where it stands in the list; what people call it by
    # short    a name for narrow places, such as a label on a box; "" to use the name
    # kind     what it arrives by: microphone, DI, line, wireless
    # mic      which microphone or DI, in the engineer's words
    # phantom  whether it wants phantom power: "yes", "no" (not needed), "never" (it would harm)
    # colour, stitch  the group's thread, so that colour is never the only sign
    # pair     id of the other side of a stereo pair
    # safe     no recall of a scene touches it
    Row = Value.of(:id,
      :number,
      :name,
      short: "",
      kind: "microphone",
      mic: "",
      stand: "",
      phantom: "no",
      group: "",
      colour: "walnut",
      stitch: "solid",
      pair: nil,
      notes: "",
      safe: false) do
      def short_name = short.empty? ? name : short
    end

    class Row
      KINDS = %w[microphone DI line wireless].freeze
      PHANTOM = %w[yes no never].freeze
      COLOURS = %w[madder weld woad indigo walnut lichen cochineal slate].freeze
      STITCHES = %w[solid dash dot double].freeze
      # Longer than any name that was ever read from a strip, short enough to be printed.
      NAME_LENGTH_MAX = 300
      TEXT_LENGTH_MAX = {name: NAME_LENGTH_MAX, short: 40, mic: 120, stand: 120, group: 60, notes: 1000}.freeze
      # What a sheet may write, and what each column takes.
      CHOICES = {kind: KINDS, phantom: PHANTOM, colour: COLOURS, stitch: STITCHES, safe: [true, false]}.freeze
      COLUMNS = (TEXT_LENGTH_MAX.keys + CHOICES.keys).freeze

      # @return [String, nil] what a column allows, when the value is not allowed
      def self.fault(column, value)
        return "1 to #{NAME_LENGTH_MAX} characters, no control characters" if column == :name && value.to_s.strip.empty?
        return "one of #{CHOICES[column].join(", ")}" if CHOICES.key?(column) && !CHOICES[column].include?(value)
        return nil unless TEXT_LENGTH_MAX.key?(column)

        most = TEXT_LENGTH_MAX[column]
        (value.is_a?(String) && value.size <= most && !value.match?(/[[:cntrl:]]/)) ? nil : "at most #{most} characters, no control characters"
      end

      # What a row's id looks like; behind the last stroke stands anything that nobody else has.
      ID = %r{\Alist/row/[A-Za-z0-9_-]{1,60}\z}
      NUMBER_MAX = 4000
    end
  end
end
