# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The audio engine: opens the device, runs a session on it, says when it is lost, and tries
    # again; beside the block loop it begins, watches and ends takes. It depends on no disk, no
    # database and no browser: a take that runs goes on without any of them.
    #
    #   runner = Runner.new(device, takes: Takes..., rings: RingFolder.new(folder))
    #   runner.run     # until the process ends
    class Runner
      RETRY_S = 0.5
      TEND_S = 0.1
      private_constant :RETRY_S, :TEND_S

      attr_reader :recorder, :clock, :rings, :faults

      # @param device [Device] see Device::Format; `choose` puts another in its place
      # @param takes_folder [String] recordings go below it
      # @param rings [RingFolder]
      # @param places [Places]
      def initialize(device, takes_folder:, rings:, places: Places.new(takes_folder), clock: Clock.new, faults: Faults.new)
        @device, @rings, @clock, @faults = device, rings, clock, faults
        @state = "starting"
        @recorder = Recorder.new(takes_folder, places: places, rings: rings, clock: clock, faults: faults, device: -> { [@state, @format] })
        @recorder.recover
      end

      # Runs until the process ends.
      def run
        Runtime::Loop.start("tend", pause_s: TEND_S, tell: faults) { @recorder.tend(@state) }
        loop do
          run_device
          sleep RETRY_S
        end
      end

      # One connection to the device, from opening to loss.
      def run_device
        begin_session(@device)
        loop { @session.cycle.then { @silent_s = nil } }
      rescue Device::Lost => e
        lost(e.message)
      rescue => e
        # What nobody expected ends this session, not the engine: it is told, and tried again.
        warn e.full_message(highlight: false)
        faults.call("block loop", e)
        lost("#{e.class}: #{e.message}")
      end

      # Another device, or the same one with other settings: this one is closed, that one opened.
      def choose(device)
        old, @device = @device, device
        old.close
      end

      # @return [Hash] what is going on, for whoever asks
      def status
        {device: device_status, recording: @recorder.take&.status, last_take: @recorder.last_take, recovered: @recorder.recovered,
         preroll: {seconds: rings.preroll_s || 0, why_not: rings.why_no_preroll}, faults: faults.to_a,
         clock: {frame: clock.frame, session: clock.session, utc_s: clock.pair.utc_s, pair_frame: clock.pair.frame}}
      end

      # @return [Hash, nil] levels since the last call
      def meters = (@state == "running") ? @meters&.take : nil
      def ribbon = @meters ? @meters.ribbon : []
      def reset_peaks(lanes) = @meters&.reset(lanes)
      # Another show has other sources on these lanes.
      def forget_levels = @meters&.forget

      private

      def begin_session(device)
        @format = device.open
        rings.make(@format)
        @meters = Meters.new(@format) unless @metered == @format
        @metered = @format
        clock.open(@format.rate_hz)
        @session = Session.new(device, @format, clock: clock, rings: rings, meters: @meters)
        @recorder.device_back(@format)
        @state = "running"
        @fault = nil
      end

      def lost(words)
        was = @state
        @state = "lost"
        @fault = words
        @device.close
        rings.page.write(clock.frame, 0, nil, 0)
        @recorder.device_lost(words) if was == "running"
      end

      def device_status
        silent_s = (@state == "running") ? @session&.silent_s : nil
        {name: @device.name, state: silent_s ? "silent" : @state, silent_s: silent_s&.round(1), fault: @fault,
         rate_hz: @format&.rate_hz, lanes: @format&.lanes_in, lanes_out: @format&.lanes_out, block_frames: @format&.block_frames,
         latency_in_frames: @format&.latency_in_frames, latency_out_frames: @format&.latency_out_frames,
         blocks: @session&.blocks || 0, lost_in_frames: @session&.lost_in_frames || 0, lost_out_frames: @session&.lost_out_frames || 0,
         late_blocks: @session&.late || 0, longest_ms: (@session&.longest_ms || 0).round(2)}
      end
    end
  end
end
