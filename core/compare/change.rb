# frozen_string_literal: true

module Loomshuttle
  module Compare
    # One difference between two patches, or a run of neighbours that differ alike: channels
    # 1 to 8 that took sockets 1 to 8 and now take sockets 9 to 16 are one change of eight.
    #
    # part    of Show::Parts::PATCH
    # key     the first place (with "sends": channel and mix)
    # was, is what stood there and what stands there, nil for nothing; last_was and last_is
    #   likewise at the end of the run
    Change = Value.of(:part, :key, :last_key, :was, :is, :last_was, :last_is, count: 1) do
      def self.single(part, key, was, is) = new(part: part, key: key, last_key: key, was: was, is: is, last_was: was, last_is: is)

      # @return [String] the first place
      def place = place_of(key)

      # @return [Change, nil] this run and the next change as one, where they belong together
      def with_next(other)
        return nil unless part == other.part && rest_of(last_key) == rest_of(other.key) && number_of(other.key) == number_of(last_key) + 1
        return nil unless goes_on?(last_was, other.was) && goes_on?(last_is, other.is)

        with(last_key: other.key, last_was: other.was, last_is: other.is, count: count + 1)
      end

      # @return [Array<String>] every place of the run
      def places = (count == 1) ? [place] : Endpoint.parse(place).then { |first| (0...count).map { |step| first.at(first.number + step) } }

      private

      def place_of(id) = (part == "sends") ? id.split(Show::Parts::SENT).first : id

      # A desk that is switched as a whole has no number, and so no neighbours.
      def number_of(id) = (place_of(id).count("/") == 2 && Endpoint.parse(place_of(id)).number).then { |number| number.is_a?(Integer) ? number : -1 }
      def rest_of(id) = [place_of(id).rpartition("/").first, id.delete_prefix(place_of(id))]

      # Takes go on with the next source at the same tap and delay; all else stays the same.
      def goes_on?(value, next_value)
        return value == next_value unless value.is_a?(Patch::Pick) && next_value.is_a?(Patch::Pick)

        from, next_from = [value, next_value].map { |take| Endpoint.parse(take.from) }
        from.field == next_from.field && from.number.is_a?(Integer) && next_from.number == from.number + 1 && value.tap == next_value.tap && value.delay_ms == next_value.delay_ms
      end
    end
  end
end
