# frozen_string_literal: true

module Loomshuttle
  module Cli
    # Listens to files lane by lane, and to each two lanes of one rate together: what `listen` prints.
    #
    #   Listening.new(["take-001"]).report   # => {lanes: [...], pairs: [...]}
    class Listening
      READ_FRAMES = 64 * Ear::Account::BLOCK_FRAMES
      # Two lanes are compared where all together are loudest, for so long; files lie beside each other from
      # their first frames.
      COMPARED_S = 4.0
      # Between the microphones of one stage.
      APART_MOST_S = 0.05
      # Under this two lanes have nothing to do with each other (bleed of one stage lies at 0.1 to 0.4; from memory).
      ALIKE = 0.5
      SAME = 0.98
      HUM_OVER_DB = 15.0
      private_constant :READ_FRAMES, :COMPARED_S, :APART_MOST_S, :ALIKE, :SAME, :HUM_OVER_DB

      # @param paths [Array<String>] files, and folders whose WAV files are meant
      # @raise [BadInput]
      def initialize(paths)
        @paths = paths.flat_map { |path| File.directory?(path) ? TakeFolder.new(path).paths : [path] }
      end

      # @return [Hash] lanes: of each channel of each file what it holds, or of a bad file {file, error};
      #   pairs: of each two what they have in common
      def report
        heard = @paths.flat_map { |path| lanes(path) }
        good = heard.reject { |lane| lane.is_a?(Hash) }
        {lanes: heard.map { |lane| lane.is_a?(Hash) ? lane : lane.data }, pairs: good.group_by(&:rate_hz).values.flat_map { |some| pairs(some) }}
      end

      # One channel of a file.
      Lane = Struct.new(:name, :path, :channel, :rate_hz, :account, :data)
      private_constant :Lane

      private

      def lanes(path)
        File.open(path, "rb") { |io| listened(path, Audio::Wav::Reader.new(io)) }
      rescue BadInput, SystemCallError => e
        [{file: path, error: e.message}]
      end

      def listened(path, reader)
        rate_hz, channels = reader.format.sample_rate_hz, reader.format.channels
        accounts = Array.new(channels) { Ear::Account.new(rate_hz: rate_hz) }
        levels = Audio::LevelTally.new(channels: channels, bits: reader.format.bits)
        reader.each_block(READ_FRAMES) do |samples|
          levels.add(samples)
          accounts.each_with_index { |account, channel| account.add(float(samples[true, channel])) }
        end
        accounts.zip(levels.levels).map.with_index(1) do |(account, level), channel|
          name = (channels == 1) ? path : "#{path} (#{channel})"
          heard = account.report { |from, count| float(reader.read_s32(from, count)[true, channel - 1]) }
          Lane.new(name, path, channel, rate_hz, account, data(path, channel, reader, level, heard))
        end
      end

      def data(path, channel, reader, level, heard)
        hum = heard[:hum]
        {file: path, channel: channel, sample_rate_hz: reader.format.sample_rate_hz, frames: reader.frames, **level, **heard.except(:hum),
         hum: hum && {hz: hum.hz, over_db: hum.over_db.round(1), level_dbfs: hum.level_dbfs.round(1)}, faults: faults(level, heard)}
      end

      def faults(level, heard)
        hum = heard[:hum]
        [*("digital silence" if heard[:silence] == "digital"), *("clipped #{level[:clipped_runs]} times" if level[:clipped_runs].positive?),
          *("hum at #{hum.hz} Hz, #{hum.over_db.round} dB over the noise" if hum && hum.over_db >= HUM_OVER_DB && hum.level_dbfs >= -90)]
      end

      def pairs(lanes)
        span = (COMPARED_S * lanes.first.rate_hz).round
        from = loudest(lanes.map { |lane| lane.account.squares }, span)
        samples = lanes.map { |lane| read(lane, from, span) }
        most_frames = (APART_MOST_S * lanes.first.rate_hz).round
        lanes.each_index.to_a.combination(2).map do |one, other|
          like = Ear::Likeness.of(samples[one], samples[other], most_frames: most_frames)
          {one: lanes[one].name, other: lanes[other].name, **like.to_h, likeness: like.likeness.round(3), faults: together(like)}
        end
      end

      def together(like)
        return [] if like.likeness < ALIKE
        return ["opposite polarity"] if like.inverted

        (like.likeness >= SAME && like.delay_frames.zero?) ? ["the same signal"] : []
      end

      # Where all lanes, each measured by its own loudest block, have most to say.
      #
      # @return [Integer] first frame
      def loudest(squares, span)
        most = squares.map(&:size).max
        sum = squares.reduce(Numo::DFloat.zeros(most)) do |all, some|
          (some.empty? || some.max.zero?) ? all : all.tap { all[0...some.size] += some / some.max }
        end
        blocks = [span / Ear::Account::BLOCK_FRAMES, most].min
        sums = [0.0, *sum.cumsum.to_a]
        (0..(most - blocks)).max_by { |at| sums[at + blocks] - sums[at] } * Ear::Account::BLOCK_FRAMES
      end

      def read(lane, from, span)
        File.open(lane.path, "rb") do |io|
          samples = Audio::Wav::Reader.new(io).read_s32(from, span)[true, lane.channel - 1]
          Numo::SFloat.zeros(span).tap { |room| room[0...samples.size] = float(samples) unless samples.empty? }
        end
      end

      def float(samples) = Numo::SFloat.cast(samples) / Audio::Scale::FULL_SCALE_S32
    end
  end
end
