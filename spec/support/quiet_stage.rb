# frozen_string_literal: true

# A stage on which nobody plays, as blocks of the capture ring: each lane has a preamp's noise; what is
# put on it is heard there, and as bleed on other lanes, later and softer. Made of plain sums, apart from the product.
class QuietStage
  Block = Struct.new(:frame, :frames, :samples) do
    def square = Numo::SFloat.cast((samples**2).mean(1))
    def lane(index) = QuietStage.bytes(samples[index, true])
    def drop = nil
  end

  # @return [String] 24 bit
  def self.bytes(samples) = Loomshuttle::Audio::Wav::Samples.to_24(Numo::Int32.cast((samples * 2**23).rint.clip(-2**23, 2**23 - 1)) * 256)

  attr_reader :lanes, :rate_hz, :samples

  def initialize(lanes:, seconds:, rate_hz: 48_000, noise_dbfs: -88, seed: 1)
    @lanes, @rate_hz = lanes, rate_hz
    @random = Random.new(seed)
    Numo::NArray.srand(seed)
    @samples = Numo::DFloat.new(lanes, (seconds * rate_hz).round).rand_norm(0, 10**(noise_dbfs / 20.0))
  end

  # A stroke: noise that dies away, as a scratch on a grille or a stick on a rim is.
  def stroke(seconds: 0.25)
    count = (seconds * rate_hz).round
    noise = Numo::DFloat.new(count).rand_norm * Numo::NMath.exp(Numo::DFloat.new(count).seq / (-0.05 * rate_hz))
    noise / noise.abs.max
  end

  # @param lane [Integer] from 1
  def put(lane, sound, at_s:, peak_dbfs: -14, inverted: false, late_frames: 0)
    from = (at_s * rate_hz).round + late_frames
    count = [sound.size, samples.shape[1] - from].min
    @samples[lane - 1, from...(from + count)] += sound[0...count] * 10**(peak_dbfs / 20.0) * (inverted ? -1 : 1)
    from
  end

  def hum(lane, hz:, dbfs:, overtones: [1, 0.5, 0.3])
    time = Numo::DFloat.new(samples.shape[1]).seq / rate_hz
    overtones.each.with_index(1) { |level, n| @samples[lane - 1, true] += Numo::NMath.sin(time * (2 * Math::PI * hz * n)) * 10**(dbfs / 20.0) * level }
  end

  # Hum that begins, or any steady note: its overtones at odd phases.
  def mains(seconds:, hz:, overtones:, rise_s: 0.01)
    time = Numo::DFloat.new((seconds * rate_hz).round).seq / rate_hz
    sound = overtones.each.with_index(1).sum { |level, n| Numo::NMath.sin(time * (2 * Math::PI * hz * n) + n * n) * level }
    sound *= (time / rise_s).clip(0, 1)
    sound / sound.abs.max
  end

  # @param block_frames [Integer]
  # @return [Array<Loomshuttle::Ear::Arrival>] with the seconds after the first sample at which each was told
  def heard(block_frames: 1024, from_frame: 0)
    ear = Loomshuttle::Ear::Arrivals.new(lanes: lanes, rate_hz: rate_hz, block_frames: block_frames)
    (0..(samples.shape[1] / block_frames - 1)).filter_map do |n|
      cut = samples[true, (n * block_frames)...((n + 1) * block_frames)].clip(-1, 1)
      arrival = ear.hear(Block.new(from_frame + n * block_frames, block_frames, cut))
      arrival && [arrival, (from_frame + (n + 1) * block_frames - arrival.frame) / rate_hz.to_f]
    end
  end

  def any(from, to) = from + @random.rand * (to - from)
  def pick(...) = @random.rand(...)
end
