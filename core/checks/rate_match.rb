# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Devices, session, takes and songs agree on one sample rate.
    module RateMatch
      READS = %i[takes].freeze

      module_function

      WHY = "Devices at different rates do not lock to each other: clicks, drop-outs or no sound at all."
      SONG_WHY = "It would play too fast or too slow, and out of tune."
      TAKE_WHY = "It is not played back in this show: it would sound too fast or too slow, and out of tune."
      private_constant :WHY, :SONG_WHY, :TAKE_WHY

      def findings(show, facts)
        devices(show) + stems(show) + of_takes(show, facts.takes || [])
      end

      def devices(show)
        show.rig.devices.values.select { |device| device.rate_hz && device.rate_hz != show.sample_rate_hz }.map do |device|
          Finding.new(rule: "rate-match", severity: "stop", step: "rig", title: "#{device.name} runs at #{khz(device.rate_hz)}",
            what: "#{device.name} is set to #{khz(device.rate_hz)}, the show runs at #{khz(show.sample_rate_hz)}.", why: WHY,
            endpoints: [device.id], mend: mend(show, device))
        end
      end

      def mend(show, device)
        Mend.new(label: "Mend: set #{device.name} to #{khz(show.sample_rate_hz)}",
          edits: [Edits::DeviceRate.new(device: device.id, rate_hz: show.sample_rate_hz)])
      end

      def stems(show)
        odd = show.songs.flat_map { |song| song.stems.map { |stem| [song, stem] } }.reject { |_, stem| stem.sample_rate_hz == show.sample_rate_hz }
        odd.group_by { |_, stem| stem.sample_rate_hz }.map do |rate_hz, alike|
          alike.one? ? of_stem(show, *alike.first) : of_stems(show, rate_hz, alike)
        end
      end

      def of_stem(show, song, stem)
        Finding.new(rule: "rate-match", severity: "stop", step: "tracks", title: "#{stem.name} is at #{khz(stem.sample_rate_hz)}",
          what: "The stem #{stem.name} of #{song.title} is at #{khz(stem.sample_rate_hz)}, the show runs at #{khz(show.sample_rate_hz)}.",
          why: SONG_WHY, endpoints: ["#{song.id}/#{stem.file}"])
      end

      # One fact of many stems is one finding.
      def of_stems(show, rate_hz, alike)
        songs = alike.map { |song, _| song.title }.uniq
        Finding.new(rule: "rate-match", severity: "stop", step: "tracks", title: "#{alike.size} stems are at #{khz(rate_hz)}",
          what: "#{alike.size} stems of #{Words::Runs.names(songs, 3)} are at #{khz(rate_hz)}, the show runs at #{khz(show.sample_rate_hz)}.",
          why: SONG_WHY, endpoints: alike.map { |song, stem| "#{song.id}/#{stem.file}" })
      end

      # Takes of one rate are one finding.
      def of_takes(show, takes)
        takes.reject { |take| take[:sample_rate_hz] == show.sample_rate_hz }.group_by { |take| take[:sample_rate_hz] }.map do |rate_hz, alike|
          numbers = alike.map { |take| take[:number] }.sort
          names = "#{Words::Runs.plural("Take", numbers)} #{Words::Runs.text(numbers)} #{(numbers.size == 1) ? "is" : "are"} at #{khz(rate_hz)}"
          Finding.new(rule: "rate-match", severity: "warn", step: "soundcheck", title: names,
            what: "#{names}, the show runs at #{khz(show.sample_rate_hz)}.", why: TAKE_WHY, endpoints: numbers.map { |number| "takes/#{number}" })
        end
      end

      def khz(rate_hz) = "#{(rate_hz / 1000.0).to_s.sub(/\.0\z/, "")} kHz"
      private_class_method :devices, :mend, :stems, :of_stem, :of_stems, :of_takes, :khz
    end
  end
end
