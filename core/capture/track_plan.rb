# frozen_string_literal: true

module Loomshuttle
  module Capture
    # One track of a take as the engine is told of it: a mono one, or both sides of a pair
    # that go into one stereo file.
    #
    # key    the id of the show's track (of the left side)
    # name   the musician's, as it stands in the file
    # file   file name without ending
    # lanes  1-based, one a channel of the file
    # sides  Array of {track:, name:}, one a channel, with what it was (Origin)
    # armed  whether it is recorded from the beginning
    TrackPlan = Value.of(:key, :name, :file, :lanes, sides: [], armed: true) do
      # @param given [Hash] string keys, checked by the contract
      def self.from_h(given)
        new(key: given["key"], name: given["name"], file: given["file"], lanes: given["lanes"], armed: given.fetch("armed", true),
          sides: given.fetch("sides", []).map { |side| %w[track name].concat(Origin::FIELDS.map(&:to_s)).to_h { |field| [field.to_sym, side[field]] }.compact })
      end

      # Whether all of it is what it should be, where no contract has looked at it.
      def sound?
        [key, name].all?(String) && FileName.plain?(file) && lanes.is_a?(Array) && lanes.any? && lanes.all? { |lane| lane.is_a?(Integer) && lane.positive? } &&
          [true, false].include?(armed) && sides.all? { |side| side[:track].is_a?(String) && side[:name].is_a?(String) }
      end

      def stereo? = lanes.size == 2

      # Names of the file's channels.
      def channel_names = lanes.each_index.map { |channel| sides.dig(channel, :name) || name }

      # @param part [Integer] from 1: arming again, or a device that came back, begins another
      # @return [String] e.g. "09 Accordion.wav", "09 Accordion - part 2.wav"
      def file_name(part) = (part == 1) ? "#{file}.wav" : "#{file} - part #{part}.wav"
    end
  end
end
