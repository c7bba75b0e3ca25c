# frozen_string_literal: true

module Loomshuttle
  module Files
    # What a whole WAV file sounds like without being listened to: length, peaks, the longest silence, and the
    # extremes of each block for its waveform, read once.
    #
    #   tally = Tally.of("take/01 Drone.wav")
    #   tally.report(1)   # => {peak_dbfs: -6.1, clips: 0, silence_s: 1.2}
    class Tally
      # The waveform's blocks; the same as those of takes that were recorded here.
      BLOCK_FRAMES = 1024
      # Whole blocks are read together.
      READ_FRAMES = 64 * BLOCK_FRAMES
      # Under this a block is silent (common practice: below the noise of any stage).
      SILENT_DBFS = -60
      private_constant :READ_FRAMES, :SILENT_DBFS

      attr_reader :frames

      # @return [Integer]
      def channels = @extremes.size

      # @yield now and then while it reads
      # @raise [Audio::Wav::Malformed, SystemCallError]
      def self.of(path)
        File.open(path, "rb") do |io|
          new(Audio::Wav::Reader.new(io)).tap { |tally| tally.read { yield if block_given? } }
        end
      end

      def initialize(reader)
        @reader = reader
        @frames = reader.frames
        @extremes = Array.new(reader.format.channels) { [] }
        @sides = (Audio::SidesTally.new if reader.format.channels == 2)
        @levels = Audio::LevelTally.new(channels: reader.format.channels, bits: reader.format.bits)
      end

      def read
        @reader.each_block(READ_FRAMES) do |samples|
          @levels.add(samples)
          @sides&.add(samples)
          @extremes.each_index { |channel| @extremes[channel] << blocks(samples[true, channel]) }
          yield
        end
      end

      # @param channel [Integer] from 1
      # @return [Numo::Int16] [blocks, 2], lowest and highest
      def extremes(channel) = @extremes[channel - 1].empty? ? Numo::Int16.zeros(0, 2) : Numo::Int16.vstack(@extremes[channel - 1])

      # @return [Hash] as a recorded file's
      def report(channel)
        level = @levels.levels[channel - 1]
        {peak_dbfs: level[:peak_dbfs], clips: level[:clipped_runs], silence_s: (longest_silence(extremes(channel)) * BLOCK_FRAMES / @reader.format.sample_rate_hz.to_f).round(1)}
      end

      # @return [Hash] sides_db, sum_peak_dbfs of two sides; nil for what has not two
      def sides = {sides_db: @sides&.sides_db, sum_peak_dbfs: @sides&.sum_peak_dbfs}

      private

      def blocks(column)
        whole = column.size / BLOCK_FRAMES
        parts = []
        if whole > 0
          table = column[0...(whole * BLOCK_FRAMES)].reshape(whole, BLOCK_FRAMES)
          parts << Numo::Int32.vstack([table.min(axis: 1), table.max(axis: 1)]).transpose
        end
        rest = column[(whole * BLOCK_FRAMES)..] if column.size > whole * BLOCK_FRAMES
        parts << Numo::Int32[[rest.min, rest.max]] if rest
        Numo::Int16.cast(Numo::Int32.vstack(parts) >> 16)
      end

      def longest_silence(extremes)
        limit = (10**(SILENT_DBFS / 20.0) * 2**15).to_i
        quiet = (extremes[true, 0] >= -limit) & (extremes[true, 1] <= limit)
        quiet.to_a.chunk_while { |one, other| one == other }.map { |run| (run.first == 1) ? run.size : 0 }.max || 0
      end
    end
  end
end
