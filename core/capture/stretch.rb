# frozen_string_literal: true

module Loomshuttle
  module Capture
    # A piece of one track that lies in one file without a break. Frames are device frames;
    # `to_frame` is nil while it grows.
    #
    # peaks_dbfs, clips, silence_s  one a channel: highest peak, blocks at full scale, longest
    #   silence; nil until the stretch ended
    # crc32  of its samples' bytes, eight hex digits
    # lost_frames  filled with silence because they never came
    Stretch = Value.of(:track, :part, :file, :from_frame, :time_reference_samples, to_frame: nil, peaks_dbfs: nil, clips: nil, silence_s: nil,
      crc32: nil, lost_frames: 0) do
      def open? = to_frame.nil?
      def frames = open? ? 0 : to_frame - from_frame
    end
  end
end
