# frozen_string_literal: true

module Loomshuttle
  # One numbered place where a signal can be. Everywhere in the product an endpoint is its
  # id, "device/family/number", e.g. "desk/channel/9" or "songs/role/click"; this value is
  # its parsed form.
  #
  #   Endpoint.parse("desk/channel/9").number  # => 9
  #   Endpoint.id("desk", "channel", 10)       # => "desk/channel/10"
  #
  # Two devices need no profile: "list" (rows of the input list) and "songs" (roles).
  Endpoint = Value.of(:device, :family, :number) do
    def self.id(device, family, number) = "#{device}/#{family}/#{number}"

    # @param text [String] an id
    # @return [Endpoint]
    # @raise [BadInput] when the text has another shape
    def self.parse(text)
      parts = text.to_s.split("/", -1)
      raise BadInput.new(field: "endpoint", value: text, allowed: self::SHAPE) unless parts.size == 3 && parts.none?(&:empty?)

      device, family, number = parts
      new(device: device, family: family, number: number.match?(/\A\d+\z/) ? number.to_i : number)
    end

    # The number alone of an id that is known to be one: questions about many places ask for no more.
    #
    # @return [Integer, String]
    def self.number(id)
      last = id[(id.rindex("/") + 1)..]
      last.match?(/\A\d+\z/) ? last.to_i : last
    end

    # @param ids [Array<String>] of numbered places
    # @return [Array<String>] by device and number, whatever was laid first
    def self.sorted(ids) = ids.sort_by { |id| [id[0, id.index("/")], number(id), id] }

    def id = self.class.id(device, family, number)
    def at(other_number) = self.class.id(device, family, other_number)
    def field = "#{device}/#{family}"

    # The place so many numbers onward.
    #
    # @raise [BadInput] for a place that has a name instead of a number
    def onward(by)
      raise BadInput.new(field: "endpoint", value: id, allowed: "a numbered place, as in desk/channel/9") unless number.is_a?(Integer)

      at(number + by)
    end
  end
  Endpoint::SHAPE = "an endpoint is written device/family/number, as in desk/channel/9"
end
