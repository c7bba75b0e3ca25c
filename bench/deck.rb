# frozen_string_literal: true

# What the deck keeps: hours of sound rendered as fast as it goes, and every ten minutes of it the memory that is in use
# once all garbage is collected and given back to the system.
#
#   bundle exec ruby bench/deck.rb [hours] [lanes]
require "fiddle"
require "fileutils"
require "tmpdir"
require_relative "../boot/deck"
require_relative "../boot/files"

module Bench
  # A player, its ring and a clock that is turned by hand.
  class Deck
    RATE_HZ = 48_000
    BLOCK = 1024
    STEP_S = 600
    TRIM = Fiddle::Function.new(Fiddle.dlopen(nil)["malloc_trim"], [Fiddle::TYPE_INT], Fiddle::TYPE_INT)

    def initialize(folder, lanes)
      @lanes, @frame = lanes, 0
      voices = (1..lanes).map do |lane|
        Loomshuttle::Files::WavWriter.write(File.join(folder, "#{lane}.wav"), names: ["x"], rate_hz: RATE_HZ, frames: RATE_HZ * 20) { |_, count| Numo::SFloat.new(1, count).rand(-0.2, 0.2) }
        {"key" => "v#{lane}", "pieces" => [{"path" => "#{lane}.wav"}], "lanes" => [lane]}
      end
      ring = Loomshuttle::Rings::PlayRing.create(File.join(folder, "play"), lanes: lanes, block_frames: BLOCK, rate_hz: RATE_HZ, slots: 100)
      @player = Loomshuttle::Deck::Player.new(-> { ring }, -> { clock })
      @player.start(Loomshuttle::Files::Programs.new(folder).build({"label" => "round", "rate_hz" => RATE_HZ, "loop" => [0], "voices" => voices}))
    end

    # @return [Hash] kB in use, objects alive
    def step
      (STEP_S * RATE_HZ / BLOCK).times do |turn|
        @frame += BLOCK
        @player.turn
        @player.peaks_dbfs if (turn % 5).zero?
        GC.start(full_mark: false) if (turn % 200).zero?
      end
      GC.start
      TRIM.call(0)
      {in_use_kb: File.read("/proc/self/status")[/RssAnon:\s+(\d+)/, 1].to_i, objects: GC.stat(:heap_live_slots), late: @player.late}
    end

    private

    def clock
      Loomshuttle::Rings::ClockPage::Reading.new(frame: @frame, session: 1, rate_hz: RATE_HZ, block_frames: BLOCK, lanes_in: @lanes, lanes_out: @lanes, mono_s: 0.0)
    end
  end
end

Dir.mktmpdir("loomshuttle-bench", File.directory?("/dev/shm") ? "/dev/shm" : nil) do |folder|
  deck = Bench::Deck.new(folder, (ARGV[1] || 8).to_i)
  ((ARGV[0] || 1).to_f * 3600 / Bench::Deck::STEP_S).to_i.times { |step| puts "#{(step + 1) * 10} min: #{deck.step}" }
end
