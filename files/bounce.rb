# frozen_string_literal: true

require "digest/xxhash"
require "openssl"
require "fileutils"

module Loomshuttle
  module Files
    # Songs of a show as files that any player can run: every lane with its stems, count-in and click, as one Broadcast
    # Wave file a lane or one of many channels; nothing is written again that has not changed.
    #
    #   Bounce.new(show) { |song, file| "songs/#{song.id}/#{file}" }.write(song, "out", one_file: false)
    class Bounce
      # What was made of what, beside the files.
      RECORD = "bounce.json"
      # Whoever reads old records makes everything anew.
      FORMAT = 4
      # More is read by several processes.
      HASHED_ALONE_BYTES = 64 * 1024**2
      private_constant :FORMAT, :HASHED_ALONE_BYTES

      # @return [Hash, nil] what the record says, nil where there is none
      def self.record_of(out)
        kept = JSON.parse(File.read(File.join(out, RECORD)))
        kept if kept.is_a?(Hash) && kept["files"].is_a?(Hash)
      rescue SystemCallError, JSON::ParserError
        nil
      end

      # @yield [Show::Song, String, Boolean] the path of one of its files, or of one below the folder of all songs; it may raise BadInput
      def initialize(show, &path)
        @show, @path = show, path
      end

      # @param name [String] title or id
      # @return [Show::Song]
      # @raise [BadInput]
      def song(name)
        @show.library.values.find { |song| [song.title, song.id].include?(name) } ||
          raise(BadInput.new(field: "song", value: name, allowed: @show.library.values.map(&:title).join(", ").then { |titles| titles.empty? ? "a song of the show; it has none" : titles }))
      end

      # @return [Array<Show::Song>] of the set list
      # @raise [BadInput]
      def set
        return @show.songs unless @show.songs.empty?

        raise BadInput.new(field: "set list", value: 0, allowed: "a show with songs in its set list")
      end

      # @param out [String] a folder, made if need be
      # @param arrangement [String, nil] one of the song's; nil for how the set list has it
      # @yield now and then while it renders; what it raises breaks it off and leaves nothing
      # @return [Hash] song, files, frames, sample_rate_hz, clipped (samples a lane), unchanged
      # @raise [BadInput, SystemCallError]
      def write(song, out, one_file: false, arrangement: nil, &beat)
        played = arrangement ? Show::Played.new(song: song, arrangement: song.arrangement(arrangement)) : Show::Played.of(@show, song)
        wish = Show::Wish.of(@show, song, played: played) { |file, shared| @path.call(song, file, shared) }
        lanes = lanes(song)
        digest = digest(wish, lanes, one_file)
        kept = unchanged(out, digest)
        return kept if kept

        FileUtils.mkdir_p(out)
        program = program(wish, lanes.keys)
        about = {song: song.title, frames: program.length_frames, sample_rate_hz: song.sample_rate_hz}
        record(out, digest, about, made(song, out, program, lanes, one_file, played.markers, beat) { program(wish, lanes.keys) })
      ensure
        program&.voices&.each { |voice| voice.source.close }
      end

      # A song that is over sooner is not worth a second process.
      SIDE_BY_SIDE_S = 30
      private_constant :SIDE_BY_SIDE_S

      private

      # @return [Hash{Integer => Array<String>}] lane => roles and mixes that are on it
      def lanes(song)
        voices = Show::SongVoices.of(@show, song)
        own = voices.flat_map { |voice| voice.lanes.map { |lane| [lane, voice.role] } }
        mixed = @show.mixes.values.select { |mix| mix.roles.intersect?(voices.map(&:role)) }.flat_map { |mix| Signal::Returns.lanes(@show, mix.endpoint).first(Show::Terms::LANES_MAX).map { |lane| [lane, mix.name] } }
        [*own, *mixed].uniq.sort.group_by(&:first).transform_values { |all| all.map(&:last) }
      end

      # Lanes stand side by side, whatever their numbers.
      def program(wish, numbers)
        beside = ->(lanes) { lanes.map { |lane| numbers.index(lane) + 1 } }
        program = Programs.new(nil).build(JSON.parse(JSON.generate(wish)))
        program.with(voices: program.voices.map { |voice| voice.with(lanes: beside[voice.lanes], also: voice.also.map { |lanes, level_db| [beside[lanes], level_db] }) })
      end

      # @yieldreturn [Render::Program] the same again, with files of its own
      # @return [Hash{String => Integer}] each file's name, and samples of it that were clipped
      def made(song, out, program, lanes, one_file, markers, beat, &again)
        about = {rate_hz: song.sample_rate_hz, frames: program.length_frames, markers: markers}
        names = lanes.map { |lane, roles| Capture::FileName.of(lane, roles.join(", ")).delete_suffix(".wav") }
        whole = "#{Capture::FileName.safe(song.title, song.id)}.wav"
        writers = one_file ? [Files::WavWriter.new(File.join(out, whole), names: names, **about)] : names.map { |name| Files::WavWriter.new(File.join(out, "#{name}.wav"), names: [name], **about) }
        processes = (program.length_frames < SIDE_BY_SIDE_S * song.sample_rate_hz) ? 1 : Runtime::SideBySide::PROCESSES
        # Where a file is read stands with the file: each process opens its own.
        mine = Hash.new { |all, pid| all[pid] = [(processes > 1) ? again.call : program, Render::Renderer.new(lanes: lanes.size)] }
        overs = Files::WavWriter.write_all(writers, frames: program.length_frames, processes: processes, beat: beat) do |from, count|
          own, renderer = mine[Process.pid]
          renderer.block(own, from, count).tap { refuse_failed(renderer) }
        end
        names.zip(overs).to_h.then { |clipped| {files: writers.map { |writer| File.basename(writer.path) }, clipped: clipped} }
      end

      # A stem that cannot be read to its end is no silence.
      def refuse_failed(renderer)
        key, words = renderer.failed.first
        raise BadInput.new(field: "stem", value: key, allowed: "a file that can be read to its end: #{words}") if key
      end

      # Of all that it is made of, the files' samples too.
      def digest(wish, lanes, one_file)
        brought = wish.dig(:click, :brought).to_h
        paths = wish[:voices].flat_map { |voice| voice[:pieces].map { |piece| piece[:path] } } + brought.values
        files = Runtime::SideBySide.map(paths, processes: (paths.sum { |path| File.size(path) } > HASHED_ALONE_BYTES) ? Runtime::SideBySide::PROCESSES : 1) do |path|
          # XXH3 of 128 bits: it tells a change from none, which is all that is asked of it, ten times as fast as BLAKE2.
          Digest::XXH3_128bits.file(path).hexdigest
        end
        told = wish.merge(voices: wish[:voices].map { |voice| voice.merge(pieces: voice[:pieces].map { |piece| piece[:at] }) }, click: wish[:click]&.merge(brought: brought.keys))
        OpenSSL::Digest.hexdigest("SHA256", JSON.generate(format: FORMAT, wish: told, lanes: lanes, files: files, one_file: one_file))
      end

      def unchanged(out, digest)
        kept = before(out)
        return nil unless kept && kept["digest"] == digest && kept["files"].all? { |name, bytes| File.size?(File.join(out, name)) == bytes }

        {**kept.slice("song", "frames", "sample_rate_hz", "clipped").transform_keys(&:to_sym), folder: out, files: kept["files"].keys, unchanged: true}
      end

      def before(out) = self.class.record_of(out)

      def record(out, digest, about, made)
        # What a bounce of before left that is none of this one's goes: a role that moved would sound twice.
        (before(out)&.fetch("files", {}).to_h.keys - made[:files]).each { |name| FileUtils.rm_f(File.join(out, File.basename(name))) }
        sizes = made[:files].to_h { |name| [name, File.size(File.join(out, name))] }
        File.write(File.join(out, RECORD), JSON.pretty_generate(**about, digest: digest, files: sizes, clipped: made[:clipped]))
        {**about, folder: out, unchanged: false, **made}
      end
    end
  end
end
