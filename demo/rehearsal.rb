# frozen_string_literal: true

require_relative "../boot/engine"
require_relative "../boot/standin"

module Loomshuttle
  module Demo
    # The take that is there on the first start: the stand-in's band through its desk, recorded by the
    # engine itself, only faster than it plays. With marks, a change of the patch, and a track that
    # is armed in the middle.
    #
    #   Rehearsal.new(show, shows.place(id)).record("data/takes")
    class Rehearsal
      BLOCK_FRAMES = 1024
      # What happens, and after how many seconds.
      SCRIPT = [
        [0, :mark, "Low tide waltz"],
        [6, :patch, "Accordion is plugged in at Box A socket 9"],
        [8, :arm, 12, true],
        [12, :mark, "Second verse"],
        [18, :arm, 7, false],
        [20, :mark, ""],
        [26, :arm, 7, true],
        [30, :end]
      ].freeze
      private_constant :BLOCK_FRAMES, :SCRIPT

      # A card that gives as many blocks as it is told to, one after the other.
      class Card
        def initialize(format, &block)
          @format = format
          @block = block
          @wanted = Queue.new
        end

        def name = "rehearsal"
        def open = @format
        def close = nil
        def write(_bytes) = 0
        def give(blocks) = blocks.times { @wanted << true }

        def read(buffer, wait_s)
          return sleep(wait_s.clamp(0, 0.01)) && nil if @wanted.empty?

          @wanted.pop
          buffer.replace(@block.call)
          0
        end
      end
      private_constant :Card

      # @param place [Hash] uid and folder of the show
      def initialize(show, place)
        @show, @place = show, place
        console = Standin::Console.new(show)
        @desk = Standin::Desk.new(Standin::Band.new(sample_rate_hz: show.sample_rate_hz), frames: BLOCK_FRAMES).tap { |desk| desk.routing = Standin::Routing.new(console) }
        @given = 0
        @card = Card.new(Engine::Device::Format.new(rate_hz: show.sample_rate_hz, lanes_in: console.card_lanes, lanes_out: console.card_lanes, block_frames: BLOCK_FRAMES)) { next_block }
      end

      # @param takes_folder [String]
      def record(takes_folder)
        Dir.mktmpdir("loomshuttle-rehearsal") do |rings|
          runner = Engine::Runner.new(@card, takes_folder: takes_folder, rings: Engine::RingFolder.new(rings))
          loop = Thread.new { runner.run }
          wait { runner.status[:device][:state] == "running" }
          runner.recorder.record(plan)
          play(runner)
        ensure
          loop&.kill&.join
        end
      end

      private

      def next_block
        bytes = @desk.process(@given * BLOCK_FRAMES, nil).to_binary
        @given += 1
        bytes
      end

      def play(runner)
        start = runner.clock.frame
        SCRIPT.each do |seconds, what, *more|
          frame = start + seconds * @show.sample_rate_hz
          @card.give([(frame - start) / BLOCK_FRAMES - @given, 0].max)
          wait { runner.clock.frame >= frame - BLOCK_FRAMES }
          happen(runner.recorder, what, *more)
        end
      end

      def happen(recorder, what, *more)
        case what
        when :mark then recorder.running.mark("rehearsal-#{@given}", more.first)
        when :patch then recorder.running.patch_changed(more.first)
        when :arm then recorder.running.arm([track(more.first)], more.last)
        when :end then recorder.stop
        end
      end

      def track(number) = plan.tracks.find { |one| one.sides.any? { |side| Endpoint.parse(side[:track]).number == number } }.key

      def plan
        tracks = Capture::Session.new.tracks(@show).map { |track| Capture::Origin.noted(@show, track).with(armed: track.sides.none? { |side| Endpoint.parse(side[:track]).number == 12 }) }
        Capture::TakePlan.new(uid: "rehearsal-#{@place[:uid]}"[0, 60], number: 1, show: @place[:folder], show_uid: @place[:uid], name: "Rehearsal",
          notes: "The narrator came in after the first verse.", sample_rate_hz: @show.sample_rate_hz, tracks: tracks, carry_on: false, utc_offset_s: Time.now.utc_offset)
      end

      def wait
        Timeout.timeout(120) { sleep 0.005 until yield }
      end
    end
  end
end
