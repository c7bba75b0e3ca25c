# frozen_string_literal: true

module Loomshuttle
  module Compare
    # Says changes of a patch in words.
    #
    #   ChangeWords.new(show).sentence(change)
    #     # => "Channel 1–8 takes Box A socket 1–8, raw, before: local socket 1–8, raw"
    class ChangeWords
      VERBS = {"slots" => %w[takes take],
               "plugs" => ["is plugged in at"] * 2,
               "sends" => %w[is are],
               "opened" => ["opened to single choices is"] * 2,
               "splits" => ["as a wanted split is"] * 2,
               "turned" => ["listens to its", "listen to their"],
               "powered" => ["phantom power is"] * 2}.freeze
      private_constant :VERBS

      # @param was [String] what the older of both is to the reader: "before" an edit, "now" beside a scene, "planned"
      #   beside what a desk has
      def initialize(show, was: "before")
        @show = show
        @was = was
        @wiring = Signal::Wiring.of(show.rig, show.sample_rate_hz)
      end

      # @param change [Change]
      # @return [Hash] plain data
      def to_data(change)
        {part: change.part,
         place: change.place,
         places: change.places,
         field: Patch::Fields.field_of(change.part, change.key),
         before: value(change, change.was, change.last_was),
         after: value(change, change.is, change.last_is),
         words: sentence(change)}
      end

      def sentence(change)
        verb = VERBS.fetch(change.part)[(change.count > 1) ? 1 : 0]
        "#{named(change)} #{verb} #{value(change, change.is, change.last_is)}, #{@was}: #{value(change, change.was, change.last_was)}".sub(/\A[a-z]/, &:upcase)
      end

      private

      def named(change)
        places = range(label(change.place), label(change.places.last))
        (change.part == "sends") ? "#{places} to #{@show.label(change.key.split(Show::Parts::SENT).last)}" : places
      end

      # A desk has two sets of inputs, or each channel two inputs.
      def turned(change, second) = "#{second ? "second" : "first"} #{Words::Runs.plural(@show.rig.devices.key?(change.place) ? "set" : "input", change.places)}"

      # "Channel 1–8" from "channel 1" and "channel 8".
      def range(first, last) = (first == last) ? first : "#{first}–#{last[/\d+\z/] || last}"
      def label(id) = @show.rig.devices[id]&.name || @show.label(id)

      def value(change, value, last)
        return turned(change, value) if change.part == "turned"

        case value
        when nil then %w[slots plugs].include?(change.part) ? "nothing" : "off"
        when Patch::Pick then [range(source(value), source(last)), value.tap, ("#{value.delay_ms} ms" if value.delay_ms.positive?)].compact.join(", ")
        when Patch::Send then "#{value.level_db} dB, #{value.tap}"
        when true then "on"
        else label(value)
        end
      end

      def source(take) = @show.label(@wiring.socket_behind(take.from))
    end
  end
end
