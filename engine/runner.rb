# frozen_string_literal: true

module Loomshuttle
  module Engine
    # The audio engine: one block loop between the device and everything else. The loop
    # reads, meters, records, plays and writes; it never waits for a disk, a database or a
    # browser. When the device goes away, takes are closed whole and it is tried again.
    class Runner
      RETRY_S = 0.5
      TEND_S = 0.1
      private_constant :RETRY_S, :TEND_S

      attr_reader :format, :recorder, :player, :last_take

      # @param device one of Device's, see Device::Format
      # @param takes_folder [String] recordings go below it
      def initialize(device, takes_folder:)
        @device = device
        @takes_folder = takes_folder
        @state = "starting"
        @blocks = 0
        @lock = Mutex.new
        @recovered = Journal.recover(takes_folder)
      end

      # Runs until the process ends.
      def run
        Thread.new { tend }
        loop do
          run_device
          sleep RETRY_S
        end
      end

      # One connection to the device, from opening to loss.
      def run_device
        @format = @device.open
        @meters = Meters.new(@format)
        @silence = "\0" * @format.block_bytes_out
        @state = "running"
        buffer = String.new(capacity: @format.block_bytes_in)
        loop { cycle(buffer) }
      rescue Device::Lost => e
        lost(e)
      end

      # @param take [Hash] see Recorder; the folder is made here and must be new
      # @raise [BadInput]
      def record(folder_name, take)
        @lock.synchronize do
          refuse_busy
          take.fetch("files").each { |file| check_lane(file.fetch("lane")) }
          folder = File.join(@takes_folder, folder_name)
          FileUtils.mkdir_p(File.dirname(folder))
          Dir.mkdir(folder)
          @meters.reset_clips
          @recorder = Recorder.new(@format, folder, take)
        rescue Errno::EEXIST
          raise BadInput.new(field: "take", value: folder_name, allowed: "a take that is not there yet")
        end
      end

      def stop_recording(reason = "stopped by hand")
        @lock.synchronize { end_take(reason) }
      end

      # @param sources [Array] already opened
      def play(sources, label:, from_frame: 0, repeat: false)
        @lock.synchronize do
          refuse_device
          sources.each { |source| check_lane(source.lane + 1) && check_rate(source) }
          @player&.stop
          @player = Player.new(@format, sources, label: label, from_frame: from_frame, repeat: repeat)
        end
      end

      def stop_playing
        @lock.synchronize do
          @player&.stop
          @player = nil
        end
      end

      # @return [Hash] what is going on, for whoever asks
      def status
        recorder, player = @recorder, @player
        {device: {name: @device.name, state: @state, rate_hz: @format&.rate_hz, lanes: @format&.lanes_in, blocks: @blocks, fault: @fault},
         recording: recorder && {take: recorder.take.slice("number", "id"),
                                 frames: recorder.frames,
                                 whole_frames: recorder.whole_frames,
                                 lost_blocks: recorder.lost_blocks,
                                 waiting_blocks: recorder.waiting_blocks,
                                 tracks: recorder.take["files"].size},
         playing: player && {label: player.label,
                             position_frames: player.position_frames,
                             length_frames: player.length_frames,
                             peak_dbfs: player.peak_dbfs,
                             underruns: player.underruns,
                             repeat: player.looping?},
         last_take: @last_take, recovered: @recovered}
      end

      # @return [Hash, nil] levels since the last call
      def meters = (@state == "running") ? @meters.take : nil
      def ribbon = @meters ? @meters.ribbon : []

      private

      def cycle(buffer)
        bytes = @device.read(buffer)
        @meters.add(Numo::Int32.from_binary(bytes, [@format.block_frames, @format.lanes_in]))
        @recorder&.push(bytes)
        @device.write(@player&.take || @silence)
        @blocks += 1
      end

      # Ends that come by themselves: a song is over, a disk is full. Closing waits for the
      # disk, so the block loop has no part in it.
      def tend
        loop do
          sleep TEND_S
          stop_playing if @player&.over?
          fault = @recorder&.fault
          stop_recording("the disk refused to write: #{fault}") if fault
        end
      end

      def lost(error)
        was = @state
        @state = "lost"
        @fault = error.message
        @device.close
        return unless was == "running"

        stop_playing
        stop_recording("the desk went away (#{error.message}); the files are whole up to there")
      end

      def end_take(reason)
        recorder = @recorder or return
        @recorder = nil
        recorder.stop(reason)
        @last_take = {number: recorder.take["number"],
                      id: recorder.take["id"],
                      frames: recorder.frames,
                      lost_blocks: recorder.lost_blocks,
                      reason: reason}
      end

      def refuse_device
        unless @state == "running"
          raise BadInput.new(field: "device", value: @state, allowed: "a device that is running; the desk does not answer")
        end
      end

      def refuse_busy
        refuse_device
        raise BadInput.new(field: "capture", value: "take #{@recorder.take["number"]}", allowed: "stop the running take first") if @recorder
      end

      def check_lane(lane)
        (1..@format.lanes_in).cover?(lane) or raise BadInput.new(field: "lane", value: lane, allowed: "1 to #{@format.lanes_in}")
      end

      # At another rate it would play too fast or too slow, and out of tune.
      def check_rate(source)
        source.rate_hz == @format.rate_hz or raise BadInput.new(field: "rate_hz",
          value: source.rate_hz,
          allowed: "the device's #{@format.rate_hz} Hz; convert the file first")
      end
    end
  end
end
