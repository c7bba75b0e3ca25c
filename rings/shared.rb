# frozen_string_literal: true

module Loomshuttle
  module Rings
    # The rings and the clock page as the engine has made them; opened anew whenever the engine
    # made new ones, away while there is none.
    class Shared
      def initialize(folder)
        @folder = folder
        @open = {}
        @lock = Mutex.new
      end

      # @return [PlayRing, nil]
      def play = @lock.synchronize { newest("play", PlayRing) }
      # @return [CaptureRing, nil]
      def capture = @lock.synchronize { newest("capture", CaptureRing) }

      # @return [ClockPage::Reading, nil] nil also when the engine has stood still
      def clock
        reading = @lock.synchronize { newest("clock", ClockPage) }&.read
        reading if reading && Process.clock_gettime(Process::CLOCK_MONOTONIC) - reading.mono_s < STILL_S
      end

      # An engine whose clock has not moved for so long plays nothing.
      STILL_S = 3.0
      private_constant :STILL_S

      private

      def newest(name, type)
        path = File.join(@folder, name)
        inode = File.stat(path).ino
        known, part = @open[name]
        return part if known == inode

        part&.close
        type.open(path).tap { |fresh| @open[name] = [inode, fresh] }
      rescue SystemCallError, JSON::ParserError
        nil
      end
    end
  end
end
