# frozen_string_literal: true

require "fileutils"

module Loomshuttle
  module Engine
    # Makes the rings of an open device, as long as memory allows, and keeps them while the
    # device stays what it is.
    class RingFolder
      # A recorder needs seconds between device and disk; a pre-roll needs more.
      DISK_S = 8
      PREROLL_S = 30
      # Share of what is free that the rings may take.
      SHARE = 0.4
      # Blocks of playback that may lie ready: two seconds and more at every rate.
      PLAY_S = 3
      private_constant :DISK_S, :SHARE, :PLAY_S

      attr_reader :capture, :play, :page, :preroll_s, :why_no_preroll

      # @param folder [String] on a memory file system
      # @param free_bytes [#call] of a folder
      def initialize(folder, free_bytes: Runtime::Disk.method(:free_bytes))
        @folder = folder
        @free_bytes = free_bytes
        FileUtils.mkdir_p(folder, mode: 0o700)
        @page = Rings::ClockPage.create(File.join(folder, "clock"))
      end

      # @param format [Device::Format]
      def make(format)
        return if @format == format

        @format = format
        [@capture, @play].each { |ring| ring&.close }
        seconds = length_s(format)
        @preroll_s = [seconds - DISK_S, 0].max
        common = {block_frames: format.block_frames, rate_hz: format.rate_hz}
        # Beside the old one first: whoever still reads that one has it until it lets go.
        @capture = fresh("capture") { |path| Rings::CaptureRing.create(path, lanes: format.lanes_in, seconds: seconds, **common) }
        @play = fresh("play") { |path| Rings::PlayRing.create(path, lanes: format.lanes_out, slots: (PLAY_S / format.block_s).ceil, **common) }
      end

      private

      def fresh(name)
        path = File.join(@folder, name)
        FileUtils.rm_f("#{path}.new")
        yield("#{path}.new").tap { File.rename("#{path}.new", path) }
      end

      def length_s(format)
        wanted = Rings::CaptureRing.bytes(lanes: format.lanes_in, block_frames: format.block_frames, rate_hz: format.rate_hz, seconds: DISK_S + PREROLL_S)
        free = @free_bytes.call(@folder)
        if free.nil? || wanted <= free * SHARE
          @why_no_preroll = nil
          return DISK_S + PREROLL_S
        end
        @why_no_preroll = "#{wanted / 1_000_000} MB of memory would be needed, #{free / 1_000_000} MB are free"
        DISK_S
      end
    end
  end
end
