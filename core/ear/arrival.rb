# frozen_string_literal: true

module Loomshuttle
  module Ear
    # Something that began to sound, and the lanes on which it was heard.
    #
    # id      anything that no other has, given by whoever hears
    # frame   device frame of its first sample on the lane where it came in
    # heard   the lane where it came in first, then all on which it was heard too, loudest first
    # hum     Hum of that first lane before it began, or nil where too little was heard before
    # humming whether it is hum that began and nothing else; then hum is of that
    # floor_dbfs  that lane's own floor, as AES17 has rms
    Arrival = Value.of(:frame, :heard, :floor_dbfs, id: nil, hum: nil, humming: false) do
      def lane = heard.first.lane

      # @param data [Hash] string keys
      def self.from_data(data)
        new(id: data["id"], frame: data["frame"], floor_dbfs: data["floor_dbfs"], humming: data.fetch("humming", false), hum: data["hum"]&.then { |hum| Hum.new(**hum.transform_keys(&:to_sym)) },
          heard: data["heard"].map { |one| Heard.new(**one.transform_keys(&:to_sym), like: Likeness.new(**one["like"].transform_keys(&:to_sym))) })
      end

      def to_data = {**to_h, heard: heard.map { |one| {**one.to_h, like: one.like.to_h} }, hum: hum&.to_h}

      # @return [Heard, nil] how it was heard there
      def on(lane) = heard.find { |one| one.lane == lane }
    end
  end
end
