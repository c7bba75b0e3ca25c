# frozen_string_literal: true

module Loomshuttle
  module Patch
    # That a channel feeds a bus or a side of the main: at which tap, at which level.
    Send = Value.of(tap: "post-fader", level_db: 0.0) do
      def self.from_h(hash) = new(tap: hash.fetch("tap", "post-fader"), level_db: hash.fetch("level_db", 0.0).to_f)
    end

    class Send
      # Levels in dB: what a desk's send faders reach, common practice.
      LEVELS_DB = (-90.0..10.0)
    end
  end
end
