# frozen_string_literal: true

module Loomshuttle
  class Show
    # One kind of thing that a show is made of, told in one place: where its keyed values stand
    # in a show, how they are written as plain data and read again, how people call them, and
    # which places and rows they name. Undo, conflicts between browsers, comparing, the show
    # file, templates and taking gear out all loop over these (Show::Parts); a new kind of
    # thing is one more file in parts/.
    #
    #   part = Parts["rows"]
    #   part.read(show)                              # => {"list/row/9" => Capture::Row}
    #   part.put(show, {"list/row/9" => nil}, [])    # => a Show without that row
    class Part
      # How it stands in a show file: :list of its values, :map by key, or :own (ShowFile knows).
      def form = :map
      def name = self.class.name.split("::").last.downcase
      # Whether the order of its keys means something.
      def ordered? = false
      def member = name.to_sym

      # @return [Hash{String => Object}] key => value
      def read(show) = show.public_send(member)

      # @param values [Hash{String => Object, nil}] key => value, nil takes it out
      # @param moves [Array<Array(String, String or nil)>] key and the key before it, see Order
      # @return [Show]
      def put(show, values, moves) = show.with(member => merged(read(show), values, moves))

      # Values that are the very same object need no looking into.
      def same?(before, after) = before.public_send(member).equal?(after.public_send(member))
      def differs?(value, other) = value != other

      def encode(value) = value
      # @param data [Object] as parsed from JSON, string keys
      # @param profiles [Hash{String => Rig::Profile}] what devices can be made of
      def decode(data, _profiles) = data.freeze

      # @return [String] the key of a value of a list
      def key(value) = value.id

      # @return [String] what it is about, as people call it
      def subject(_show, key, _value) = "#{name} #{key}"

      # @return [Array<String>] places and rows that a value names, beside its own key
      def mentions(_value) = []

      # The value without what it names of things that are gone.
      #
      # @yield [String] whether a place, row or device is gone
      # @return [Object, nil] nil where it goes itself
      def without(key, value) = (([key] + mentions(value)).any? { |id| yield id }) ? nil : value

      private

      def merged(before, values, moves) = Order.after(before.merge(values).compact, moves).freeze
    end
  end
end
