# frozen_string_literal: true

require_relative "stems"

module Loomshuttle
  module Demo
    # The other songs of the demo's evening, with changes of tempo and meter, synthesised on their own maps; and what the
    # set list says of each.
    module Set
      # Bars that they have, and the notes of each section, Hz.
      SONGS = [
        {id: "reed-cutters", title: "Reed cutters", bars: 24, tempo: {meters: [{bar: 1, meter: "7/8"}, {bar: 9, meter: "4/4"}, {bar: 17, meter: "7/8"}], tempi: [{bar: 1, bpm: 132}, {bar: 17, bpm: 138}]},
         sections: [["Sickles", 1, "lichen", 98.0], ["Haul", 9, "walnut", 130.8], ["Sickles again", 17, "lichen", 98.0]],
         arrangements: [{name: "Twice the haul", parts: %w[sickles haul haul sickles-again]}]},
        {id: "lamplight-crossing", title: "Lamplight crossing", bars: 24, tempo: {meters: [{bar: 1, meter: "3/4"}], tempi: [{bar: 1, bpm: 92}, {bar: 13, bpm: 92, ramp: true}, {bar: 21, bpm: 120}]},
         sections: [["Slack water", 1, "indigo", 87.3], ["Lamps", 9, "weld", 116.5], ["Over", 17, "cochineal", 130.8]], arrangements: []}
      ].freeze
      ENTRIES = [{song: "low-tide-waltz", key: "A minor", talk_s: 40},
        {song: "reed-cutters", key: "G minor", arrangement: "Twice the haul", after: "wait", wait_s: 6},
        {song: "lamplight-crossing", key: "F major", trim_db: -1.5, note: "Narrator speaks over Slack water"}].freeze

      module_function

      # @param whole [Hash] the demo as Demo.data has it
      # @return [Hash] with all songs of the evening
      def of(whole) = whole.merge(songs: whole[:songs] + SONGS.map { |song| data(song) }, set_list: ENTRIES)

      # @param folder [String] of all songs
      def write(folder)
        SONGS.each do |song|
          target = File.join(folder, song[:id])
          FileUtils.mkdir_p(target)
          {"marsh organ.wav" => :organ, "tide drum.wav" => :drum}.each do |name, part|
            path = File.join(target, name)
            File.binwrite(path, Stems.wav(name, send(part, song))) unless File.exist?(path)
          end
        end
      end

      # @param whole [Hash] with all songs
      # @param folder [String] of all songs, written
      # @return [Hash] with the loudness of each
      def measured(whole, folder)
        whole.merge(songs: whole[:songs].map { |song| {**song, **loudness(song[:stems].map { |stem| File.join(folder, song[:id], stem[:file]) })} })
      end

      # Their waveforms, as the worker draws those of songs that are taken in.
      def draw(whole, folder)
        whole[:songs].each do |song|
          tallies = song[:stems].map { |stem| Files::Tally.of(File.join(folder, song[:id], stem[:file])) }
          extremes = tallies.flat_map { |tally| (1..tally.channels).map { |channel| tally.extremes(channel) } }
          File.binwrite(File.join(folder, song[:id], Server::Jobs::Measured::PICTURE), Capture::Overview.of(extremes))
        end
      end

      def loudness(paths) = Files::Loudness.of_command(paths) { |*command| Open3.capture2e(*command).first }.compact

      def data(song)
        length = bar_frame(song, song[:bars] + 1)
        stems = [["Marsh organ", "organ"], ["Tide drum", "tide"]].map { |name, role| {name: name, role: role, file: "#{name.downcase}.wav", sample_rate_hz: SAMPLE_RATE_HZ, frames: length} }
        sections = song[:sections].map { |name, bar, colour| {id: name.downcase.tr(" ", "-"), name: name, bar: bar, colour: colour} }
        first = {bpm: song[:tempo][:tempi].first[:bpm], beats_per_bar: map(song).meter(1).beats}
        {**song.slice(:id, :title, :tempo, :arrangements), **first, sample_rate_hz: SAMPLE_RATE_HZ, length_frames: length, sections: sections, stems: stems}
      end

      def map(song) = Music::TempoMap.from_h(JSON.parse(JSON.generate(song[:tempo])))
      def bar_frame(song, bar) = map(song).then { |map| map.frame(map.bar_start(bar), SAMPLE_RATE_HZ) }

      # A drone on the section's note, swelling once a bar.
      def organ(song)
        parts = (1..song[:bars]).map do |bar|
          hz = song[:sections].reverse.find { |_, from| from <= bar }.last
          from, to = bar_frame(song, bar), bar_frame(song, bar + 1)
          t = (Numo::DFloat.new(to - from).seq + from) / SAMPLE_RATE_HZ
          swell = Numo::NMath.sin(Numo::DFloat.new(to - from).seq * Math::PI / (to - from))**2 + 0.15
          [hz, hz * 1.5, hz * 2].sum { |tone| Numo::NMath.sin(t * 2 * Math::PI * tone) } * swell
        end
        Numo::DFloat.hstack(parts)
      end

      # A stroke on each beat, deeper on the first of a bar.
      def drum(song)
        map = map(song)
        out = Numo::DFloat.zeros(bar_frame(song, song[:bars] + 1))
        (1..song[:bars]).each do |bar|
          map.meter(bar).beats.times do |beat|
            at = map.frame(map.bar_start(bar) + beat * map.meter(bar).beat_quarters, SAMPLE_RATE_HZ)
            one = stroke(beat.zero? ? 62 : 84)[0...[SAMPLE_RATE_HZ / 3, out.size - at].min]
            out[at...(at + one.size)] += one
          end
        end
        out
      end

      def stroke(hz) = Stems.time_s(SAMPLE_RATE_HZ / 3).then { |t| Numo::NMath.sin(t * 2 * Math::PI * hz) * Numo::NMath.exp(t * -14) }
      private_class_method :map, :bar_frame, :data, :organ, :drum, :stroke
    end
  end
end
