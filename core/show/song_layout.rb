# frozen_string_literal: true

module Loomshuttle
  class Show
    # Where a song's parts lie when it plays: its count-in first, if there is one, then its audio; or its audio first, where
    # that begins long before bar 1.
    #
    #   SongLayout.of(song)   # => #<struct audio_at=96_000, click_at=0, bar_1_at=96_000, to_bar=9, frames=1_017_600>
    #
    # audio_at  program frame at which the stems begin
    # click_at  where the click's first bar begins, nil without a click
    # bar_1_at  where bar 1 begins, nil without a tempo
    # to_bar    first bar that has no click any more, nil without one
    # frames    of all of it
    SongLayout = Value.of(:audio_at, :click_at, :bar_1_at, :to_bar, :frames)

    class SongLayout
      class << self
        # @param song [Song]
        def of(song)
          map = song.map or return new(audio_at: 0, click_at: nil, bar_1_at: nil, to_bar: nil, frames: song.length_frames)

          counted = -map.frame(map.bar_start(1 - song.count_in_bars), song.sample_rate_hz)
          origin = [song.bar_1_frame - counted, 0].min
          new(audio_at: -origin, click_at: song.bar_1_frame - counted - origin, bar_1_at: song.bar_1_frame - origin, to_bar: song.last_bar + 1,
            frames: song.length_frames - origin)
        end
      end
    end
  end
end
