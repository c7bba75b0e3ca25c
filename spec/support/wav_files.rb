# frozen_string_literal: true

# WAV files made by hand for the specs: valid ones in every encoding, and broken ones.
module WavFiles
  module_function

  def chunk(id, body, pad: true) = [id, body.bytesize].pack("a4V") + body.b + ((pad && body.bytesize.odd?) ? "\0" : "")
  def riff(*chunks) = "RIFF".b + [chunks.sum(&:bytesize) + 4].pack("V") + "WAVE" + chunks.join
  def fmt(tag, channels, rate, bits) = chunk("fmt ", [tag, channels, rate, rate * channels * bits / 8, channels * bits / 8, bits].pack("vvVVvv"))

  def extensible(tag, channels, rate, bits)
    chunk("fmt ", [0xFFFE, channels, rate, rate * channels * bits / 8, channels * bits / 8, bits, 22, bits, 0, tag].pack("vvVVvvvvVv") + "\x00\x00\x00\x00\x10\x00\x80\x00\x00\xAA\x00\x38\x9B\x71".b)
  end

  def pcm16(samples, channels: 1, rate: 48_000) = riff(fmt(1, channels, rate, 16), chunk("data", samples.pack("s<*")))
  def reader(bytes) = Loomshuttle::Audio::Wav::Reader.new(StringIO.new(bytes))
end
