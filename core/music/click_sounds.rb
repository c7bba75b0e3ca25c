# frozen_string_literal: true

module Loomshuttle
  module Music
    # What a click sounds like: each made here from sines and noise that die away, and each at its full height in its
    # very first sample, so that its onset is sharp to the sample.
    #
    #   ClickSounds.of("woodblock", 48_000)   # => {accent: Numo::SFloat [frames], beat: ..., part: ...}, full scale 1
    module ClickSounds
      # Partials in Hz with their shares, noise's share, and how long it takes to die away.
      Voice = Struct.new(:partials, :noise, :length_s)
      VOICES = {"beep" => Voice.new({1174.7 => 1.0}, 0.0, 0.03),
                "woodblock" => Voice.new({830.0 => 0.7, 1370.0 => 0.3}, 0.0, 0.05),
                "stick" => Voice.new({2_600.0 => 0.45, 4_100.0 => 0.25}, 0.3, 0.02),
                "tick" => Voice.new({3_520.0 => 1.0}, 0.0, 0.008),
                "cowbell" => Voice.new({562.0 => 0.5, 845.0 => 0.5}, 0.0, 0.12)}.freeze
      NAMES = VOICES.keys.freeze
      # An accent is a fifth higher and as loud as a click gets; a beat is softer, what divides it softer still.
      PITCH = {accent: 1.5, beat: 1.0, part: 1.0}.freeze
      PEAK_DBFS = {accent: -12.0, beat: -15.0, part: -21.0}.freeze
      # Behind it, as a share of its first height: -43 dB.
      DECAY = 5.0
      private_constant :Voice, :VOICES, :PITCH, :DECAY

      module_function

      # Sounds that somebody brought, as loud as they are. What has none of its own is the beat's: a beat then stands 3 dB
      # behind its accent, a part 6 dB behind its beat, as those that are made here.
      #
      # @param brought [Hash{Symbol => Numo::SFloat}] :beat, and :accent and :part where there are, each [frames]
      # @return [Hash{Symbol => Numo::SFloat}]
      def own(brought)
        beat = brought.fetch(:beat)
        behind_db = brought.key?(:accent) ? 0.0 : PEAK_DBFS[:beat] - PEAK_DBFS[:accent]
        {accent: brought.fetch(:accent, beat), beat: softer(beat, behind_db), part: brought.fetch(:part) { softer(beat, behind_db + PEAK_DBFS[:part] - PEAK_DBFS[:beat]) }}
      end

      # @param name [String] of NAMES
      # @return [Hash{Symbol => Numo::SFloat}] [frames]
      # @raise [BadInput]
      def of(name, rate_hz)
        voice = VOICES[name] or raise BadInput.new(field: "sound", value: name, allowed: NAMES.join(", "))
        PITCH.to_h { |kind, pitch| [kind, sound(voice, pitch, Audio::Scale.ratio(PEAK_DBFS[kind]), rate_hz)] }
      end

      def sound(voice, pitch, peak, rate_hz)
        time_s = Numo::DFloat.new((voice.length_s * rate_hz).round).seq / rate_hz
        tone = voice.partials.sum { |pitch_hz, share| Numo::NMath.cos(time_s * 2 * Math::PI * pitch_hz * pitch) * share }
        tone += noise(time_s.size) * voice.noise unless voice.noise.zero?
        tone *= Numo::NMath.exp(time_s * -DECAY / voice.length_s)
        Numo::SFloat.cast((tone * (peak / tone.abs.max) * Audio::Scale::FULL_SCALE_S24).rint / Audio::Scale::FULL_SCALE_S24)
      end

      # The same on every machine: a linear congruential generator (Numerical Recipes' constants, from memory), its first
      # value at full height.
      def noise(frames)
        state = 1
        values = Array.new(frames) { (state = (1_664_525 * state + 1_013_904_223) % 2**32) / 2.0**31 - 1 }
        Numo::DFloat.cast([1.0, *values.drop(1)])
      end

      def softer(sound, by_db) = by_db.zero? ? sound : sound * Audio::Scale.ratio(by_db)
      private_class_method :sound, :noise, :softer
    end
  end
end
