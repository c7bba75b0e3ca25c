# frozen_string_literal: true

module Loomshuttle
  class Show
    # A short sound that somebody brought: a click, a spoken word. It lies ready at every rate that a song may have, mono,
    # beside all songs.
    #
    #   OwnSound.path("3f0c9a51d2e4b678", 48_000)   # => "_sounds/3f0c9a51d2e4b678/48000.wav", below the folder of all songs
    module OwnSound
      # No song's folder is called so: a song's id has no such sign.
      FOLDER = "_sounds"
      # What a click's sound is called that is made of them, beside Music::ClickSounds::NAMES.
      NAME = Music::Click::OWN
      # A click longer than that would be a cue; a cue longer than that a stem.
      LENGTH_MAX_S = 30

      module_function

      def path(id, rate_hz) = "#{FOLDER}/#{id}/#{rate_hz}.wav"

      # All that a song asks for.
      #
      # @param click, cues [Hash] as data of a song
      # @return [Array<String>] ids
      def of(click, cues) = [*of_click(click).values, *cues.fetch("said", []).filter_map { |said| said["sound"] }].uniq

      # @raise [BadInput] for a click of one's own without a sound for its beat
      def check(click)
        raise BadInput.new(field: "click.own.beat", value: nil, allowed: "a sound that was brought, for the beat") if click["sound"] == NAME && !of_click(click).key?(:beat)
      end

      # @return [Hash{Symbol => String}] :beat, and :accent and :part where they have one of their own => id
      def of_click(click) = (click["sound"] == NAME) ? click.fetch("own", {}).compact.transform_keys(&:to_sym) : {}
    end
  end
end
