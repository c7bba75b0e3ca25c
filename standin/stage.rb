# frozen_string_literal: true

module Loomshuttle
  module Standin
    # What arrives at the sockets of a stage on which something is simulated: silence with a preamp's noise,
    # taps, bleed, hum, a cable wired the other way round.
    class Stage
      # Peak of a tap, and the noise of a preamp at working gain (common practice).
      TAP_DBFS = -14.0
      NOISE_DBFS = -88.0
      HUM_DBFS = -48.0
      HUM_HZ = 50
      BLEED_DB = -20.0
      # Two microphones of one source: the other one hears what is tapped at the first (common practice).
      PARTNER_DB = -9.0
      # One metre of air.
      BLEED_S = 0.003
      CLIP_DB = 40.0
      # Somebody scratches four times.
      STROKES = 4
      STROKE_S = 0.25
      STEPS = 2.0**23
      private_constant :TAP_DBFS, :NOISE_DBFS, :HUM_DBFS, :HUM_HZ, :BLEED_DB, :PARTNER_DB, :BLEED_S, :CLIP_DB, :STROKES, :STROKE_S, :STEPS

      # What is the same for every state of a simulation, made once a rate.
      class Sounds
        attr_reader :tap, :noise, :hum, :late_frames

        def initialize(rate_hz, seed: 11)
          random = Random.new(seed)
          @tap = strokes(rate_hz, random)
          @noise = Numo::SFloat.cast(gaussian(2 * rate_hz, random) * Audio::Scale.ratio(NOISE_DBFS))
          @hum = hum_second(rate_hz)
          @late_frames = (BLEED_S * rate_hz).round
        end

        private

        def strokes(rate_hz, random)
          frames = (STROKE_S * rate_hz).round
          stroke = gaussian(frames, random) * Numo::NMath.exp(Numo::DFloat.new(frames).seq / (-0.05 * rate_hz))
          Numo::SFloat.cast(Numo::DFloat.hstack([stroke / stroke.abs.max * Audio::Scale.ratio(TAP_DBFS)] * STROKES))
        end

        # By Box and Muller from the given source, so that it is the same in every process.
        def gaussian(frames, random)
          one, other = Array.new(2) { Numo::DFloat.cast(Array.new(frames) { 1.0 - random.rand }) }
          Numo::NMath.sqrt(Numo::NMath.log(one) * -2) * Numo::NMath.cos(other * (2 * Math::PI))
        end

        # A whole second goes round without a seam.
        def hum_second(rate_hz)
          time = Numo::DFloat.new(rate_hz).seq * (2 * Math::PI * HUM_HZ / rate_hz)
          Numo::SFloat.cast((Numo::NMath.sin(time) + Numo::NMath.sin(time * 2) * 0.5 + Numo::NMath.sin(time * 3) * 0.3) * Audio::Scale.ratio(HUM_DBFS))
        end
      end

      # @param simulation [Simulation]
      # @param show [Show] as the desk has it: its rows in their order, and which of them are microphones of one source
      # @param musicians [Array<Integer>] of the band, one a row
      def initialize(simulation, show, musicians, sounds)
        @simulation, @rows, @musicians, @sounds = simulation, show.rows.keys, musicians, sounds
        @partners = @rows.map { |row| Linecheck::Partners.of(show, row).filter_map { |other| @rows.index(other) } }
        @hums, @inverted, @clipped, @bleeding = %w[hum polarity clip bleed].map { |kind| simulation.of(kind).filter_map { |row| @rows.index(row) } }
      end

      # @param band [Band]
      # @return [Numo::SFloat] [rows, frames], what the microphones give, before any preamp
      def block(band, frame, frames)
        # A copy: the band's own samples must stay as they are.
        sound = dry(band, frame, frames).dup
        bleed(sound, band, frame, frames)
        @inverted.each { |row| sound[row, true] = -sound[row, true] }
        @clipped.each { |row| sound[row, true] *= Audio::Scale.ratio(CLIP_DB) }
        @hums.each { |row| sound[row, true] += going_round(@sounds.hum, frame, frames) }
        noise(sound, frame, frames) if @simulation.quiet
        (sound * STEPS).rint.clip(-STEPS, STEPS - 1) / STEPS
      end

      private

      def dry(band, frame, frames)
        @simulation.quiet ? tapped(frame, frames) : band.block(frame, frames)[@musicians, true]
      end

      def tapped(frame, frames)
        sound = Numo::SFloat.zeros(@rows.size, frames)
        tap = @simulation.tap
        row = tap && @rows.index(tap.row) or return sound

        tap.from ||= frame
        from = [tap.from - frame, 0].max
        at = frame + from - tap.from
        count = [frames - from, @sounds.tap.size - at].min
        sound[row, from...(from + count)] = @sounds.tap[at...(at + count)] if count.positive?
        sound
      end

      # What others hear is what sounded a moment earlier. While the band plays each musician is heard alone, unless told otherwise.
      def bleed(sound, band, frame, frames)
        tapped = @simulation.quiet && @simulation.tap && @rows.index(@simulation.tap.row)
        partners = tapped ? @partners[tapped] : []
        return if (@bleeding.empty? && partners.empty?) || frame < @sounds.late_frames

        late = dry(band, frame - @sounds.late_frames, frames)
        partners.each { |other| sound[other, true] += late[tapped, true] * Audio::Scale.ratio(PARTNER_DB) }
        @bleeding.each { |row| neighbours(row).each { |other| sound[other, true] += late[row, true] * Audio::Scale.ratio(BLEED_DB) } }
      end

      def neighbours(row) = [row - 1, row + 1].select { |other| other.between?(0, @rows.size - 1) } - (@simulation.quiet ? @partners[row] : [])

      def noise(sound, frame, frames)
        # Far enough apart that no two are alike.
        @rows.each_index { |row| sound[row, true] += going_round(@sounds.noise, frame + row * 7919, frames) }
      end

      def going_round(sound, frame, frames)
        from = frame % sound.size
        return sound[from...(from + frames)] if from + frames <= sound.size

        first = sound[from..]
        Numo::SFloat.hstack([first, sound[0...(frames - first.size)]])
      end
    end
  end
end
