# frozen_string_literal: true

module Loomshuttle
  class Show
    # One file of a song, mono or stereo. `file` is a name inside the song's own folder.
    Stem = Value.of(:name, :role, :file, :sample_rate_hz, :frames, channels: 1)
  end
end
