# frozen_string_literal: true

module Loomshuttle
  class Show
    # Which lanes each stem of a song goes to, as the patch has it.
    #
    #   SongVoices.of(show, song)   # => [#<struct key="organ/0", stem=..., channels=nil, lanes=[29]>, ...]
    #
    # A role on two lanes has a left and a right one: a stereo stem keeps its sides, a mono one comes on both. On one lane
    # a stereo stem is summed, neither side is lost.
    #
    # channels  of the stem's file, nil for all of them once
    SongVoices = Value.of(:key, :stem, :channels, :lanes)

    class SongVoices
      class << self
        # @return [Array<SongVoices>] in the order of the stems
        # @raise [BadInput] for a role without a lane
        def of(show, song)
          song.stems.map.with_index do |stem, at|
            lanes = lanes(show, stem.role).first(2)
            new(key: "#{stem.role}/#{at}", stem: stem, channels: ([1, 1] if stem.channels == 1 && lanes.size == 2), lanes: lanes)
          end
        end

        # @return [Integer] the click's
        # @raise [BadInput]
        def click_lane(show) = lanes(show, CLICK_ROLE).first

        private

        def lanes(show, role)
          found = Signal::Returns.lanes(show, Endpoint.id("songs", "role", role))
          raise BadInput.new(field: "role", value: role, allowed: "lay every role of the song on a lane first") if found.empty?

          found
        end
      end
    end
  end
end
