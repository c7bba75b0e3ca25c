# frozen_string_literal: true

module Loomshuttle
  module Rig
    # What the standard of a link allows: lanes at most at each sample-rate family (48 for
    # 44.1/48 kHz, 96 for 88.2/96 kHz), the length at most in m, and the cables that it
    # runs on. Where a standard fits no cable kind, any text is a kind.
    #
    # Capacities and lengths are from memory: AES50 (AES50-2011: 48/24, 100 m of Cat 5e),
    # AES10 (MADI: 64/32; 100 m of 75 ohm coaxial cable), AES3 (2; 110 ohm twisted pair,
    # 100 m), ADAT optical (8/4; 10 m), USB 2.0 (5 m; one isochronous endpoint of
    # 24.576 MB/s is 128 lanes of 32 bits at 48 kHz). Analogue lengths are common practice.
    Standard = Value.of(:name, :lanes, :length_max_m, :cables, digital: true) do
      def lanes_at(rate_hz) = lanes.fetch(Standard.rate_family(rate_hz))
    end

    class Standard
      RATE_FAMILIES = [48, 96].freeze
      ALL = [
        {name: "AES50", lanes: {48 => 48, 96 => 24}, length_max_m: 100, cables: ["Cat 5e", "Cat 6", "Cat 6a", "Cat 7"]},
        {name: "MADI", lanes: {48 => 64, 96 => 32}, length_max_m: 100, cables: ["75 ohm coaxial"]},
        {name: "MADI optical", lanes: {48 => 64, 96 => 32}, length_max_m: 2000, cables: ["multimode fibre"]},
        {name: "AES3", lanes: {48 => 2, 96 => 2}, length_max_m: 100, cables: ["110 ohm twisted pair", "microphone cable"]},
        {name: "ADAT", lanes: {48 => 8, 96 => 4}, length_max_m: 10, cables: ["optical"]},
        {name: "USB", lanes: {48 => 128, 96 => 64}, length_max_m: 5, cables: ["USB"]},
        {name: "line", lanes: {48 => 128, 96 => 128}, length_max_m: 150, cables: ["balanced multicore"], digital: false},
        {name: "unbalanced line", lanes: {48 => 128, 96 => 128}, length_max_m: 6, cables: ["unbalanced loom"], digital: false}
      ].to_h { |given| [given[:name], new(**given, lanes: given[:lanes].freeze, cables: given[:cables].freeze)] }.freeze

      # @return [Integer] 48 or 96
      def self.rate_family(rate_hz) = (rate_hz > 50_000) ? 96 : 48
      def self.[](name) = ALL[name]
    end
  end
end
