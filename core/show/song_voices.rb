# frozen_string_literal: true

module Loomshuttle
  class Show
    # Which lanes each stem of a song and its click go to, and how loud, as patch, mixes and set list have it.
    #
    #   SongVoices.of(show, song)   # => [#<struct key="organ/0", stem=..., lanes=[29], ...>, ...]
    #
    # A role on two lanes has a left and a right one: a stereo stem keeps its sides, a mono one comes on both. On one lane
    # a stereo stem is summed, neither side is lost.
    #
    # stem   nil for the click and for what is read out
    # role   its name
    # lanes  numbers of those that it is laid on by itself
    # also   mixes that carry it: [[lanes, level_db]]
    SongVoices = Value.of(:key, :stem, :role, :lanes, :gain_db, :fold_db, :also)

    class SongVoices
      # Key of what is read out.
      SPOKEN = "cue/spoken"

      class << self
        # What sounds of a song, wherever it goes: stems, what is read out, the click.
        #
        # @return [Array<Array(String, Stem or nil, String)>] key, stem and role
        def parts(song)
          stems = song.stems.map.with_index { |stem, at| ["#{stem.role}/#{at}", stem, stem.role] }
          [*stems, ([SPOKEN, nil, CUE_ROLE] if song.cues?), ([CLICK_ROLE, nil, CLICK_ROLE] if song.click?)].compact
        end

        # @return [Array<SongVoices>] in the order of the stems, behind them what is read out, and the click
        # @raise [BadInput] for a role without a lane
        def of(show, song)
          trim_db = show.set_list[song.id]&.trim_db || 0.0
          # What is made has a level apart from the music's.
          parts(song).map { |key, stem, role| voice(show, song, key, stem, role, stem ? trim_db : 0.0) }
        end

        private

        def voice(show, song, key, stem, role, trim_db)
          playing = PlayingRole.of(show, role, song.id)
          raise BadInput.new(field: "role", value: role, allowed: "lay every role of the song on a lane first") unless playing.heard?

          new(key: key, stem: stem, role: role, lanes: playing.lanes, gain_db: playing.gain_db + trim_db, fold_db: playing.fold_db,
            also: playing.also.map { |slots, level_db| [slots.map { |id| Endpoint.number(id) }, level_db] })
        end
      end
    end
  end
end
