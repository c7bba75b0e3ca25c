# frozen_string_literal: true

require "openssl"
require "fileutils"

module Loomshuttle
  module Cli
    # Songs of a show as files that any player can run: every lane with its stems, count-in and click, as one Broadcast
    # Wave file a lane or one of many channels; nothing is written again that has not changed.
    #
    #   Bounce.new(show, songs: "songs").write(song, "out", one_file: false)
    class Bounce
      # What was made of what, beside the files.
      RECORD = "bounce.json"
      # Whoever reads old records makes everything anew.
      FORMAT = 1
      private_constant :RECORD, :FORMAT

      # @param folders [Array<String>] where stems may lie: in a folder of the song's id, or as they are
      def initialize(show, folders:)
        @show, @folders = show, folders
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
      # @return [Hash] song, files, frames, sample_rate_hz, clipped (samples a lane), unchanged
      # @raise [BadInput, SystemCallError]
      def write(song, out, one_file: false, arrangement: nil)
        played = arrangement ? Show::Played.new(song: song, arrangement: song.arrangement(arrangement)) : Show::Played.of(@show, song)
        refuse_lost(played)
        voices = Show::SongVoices.of(@show, song)
        paths = voices.map { |voice| path_of(song, voice.stem) }
        lanes = lanes(song, voices)
        digest = digest(song, voices, lanes, paths, [one_file, played.arrangement&.to_h, trim_db(song)])
        kept = unchanged(out, digest)
        return kept if kept

        FileUtils.mkdir_p(out)
        program = program(song, voices, paths, lanes.keys)
        program = program.with_order(played.order) if played.order
        record(out, digest, {song: song.title, frames: program.length_frames, sample_rate_hz: song.sample_rate_hz}, made(song, out, program, lanes, one_file, played.markers))
      ensure
        program&.voices&.each { |voice| voice.source.close }
      end

      private

      def path_of(song, stem)
        tried = @folders.flat_map { |folder| [File.join(folder, song.id, stem.file), File.join(folder, stem.file)] }
        tried.find { |path| File.file?(path) } || raise(BadInput.new(field: "stem", value: stem.file, allowed: "a file in #{@folders.join(" or ")}, or there in #{song.id}; name its folder with --songs"))
      end

      def trim_db(song) = @show.set_list[song.id]&.trim_db || 0.0

      def refuse_lost(played)
        played.song.arrangement(played.lost) if played.lost
      end

      # @return [Hash{Integer => Array<String>}] lane => roles that are on it
      def lanes(song, voices)
        pairs = voices.flat_map { |voice| voice.lanes.map { |lane| [lane, voice.stem.role] } }
        pairs << [Show::SongVoices.click_lane(@show), Show::CLICK_ROLE] if song.click?
        pairs.uniq.sort.group_by(&:first).transform_values { |all| all.map(&:last) }
      end

      # Lanes stand side by side, whatever their numbers.
      def program(song, voices, paths, numbers)
        layout = song.layout
        made = []
        voices.zip(paths) do |voice, path|
          source = Files::WavSource.new(path, channels: voice.channels)
          made << Render::Voice.new(key: voice.key, source: source, lanes: voice.lanes.map { |lane| numbers.index(lane) + 1 }, at_frames: layout.audio_at, gain_db: trim_db(song))
          refuse_rate(song, source, path)
        end
        made << click(song, layout, numbers) if song.click?
        Render::Program.new(label: song.title, rate_hz: song.sample_rate_hz, voices: made, length_frames: layout.frames)
      rescue BadInput
        made&.each { |voice| voice.source.close }
        raise
      end

      def click(song, layout, numbers)
        click = Music::Click.new(song.map, song.click_style, rate_hz: song.sample_rate_hz, to_bar: layout.to_bar)
        source = Render::ClickSource.new(click, frames: [click.frames, layout.frames - layout.click_at].min)
        Render::Voice.new(key: Show::CLICK_ROLE, source: source, lanes: [numbers.index(Show::SongVoices.click_lane(@show)) + 1], at_frames: layout.click_at)
      end

      def refuse_rate(song, source, path)
        return if source.rate_hz == song.sample_rate_hz

        raise BadInput.new(field: File.basename(path), value: "#{source.rate_hz} Hz", allowed: "the song's #{song.sample_rate_hz} Hz; convert it first")
      end

      # @return [Hash{String => Integer}] each file's name, and samples of it that were clipped
      def made(song, out, program, lanes, one_file, markers)
        about = {rate_hz: song.sample_rate_hz, frames: program.length_frames, markers: markers}
        names = lanes.map { |lane, roles| Capture::FileName.of(lane, roles.join(", ")).delete_suffix(".wav") }
        whole = "#{Capture::FileName.safe(song.title, song.id)}.wav"
        writers = one_file ? [Files::WavWriter.new(File.join(out, whole), names: names, **about)] : names.map { |name| Files::WavWriter.new(File.join(out, "#{name}.wav"), names: [name], **about) }
        renderer = Render::Renderer.new(lanes: lanes.size)
        overs = Files::WavWriter.write_all(writers, frames: program.length_frames) do |from, count|
          renderer.block(program, from, count).tap { refuse_failed(renderer) }
        end
        names.zip(overs).to_h.then { |clipped| {files: writers.map { |writer| File.basename(writer.path) }, clipped: clipped} }
      end

      # A stem that cannot be read to its end is no silence.
      def refuse_failed(renderer)
        key, words = renderer.failed.first
        raise BadInput.new(field: "stem", value: key, allowed: "a file that can be read to its end: #{words}") if key
      end

      # Of all that it is made of, the files' samples too.
      def digest(song, voices, lanes, paths, how)
        files = paths.map { |path| OpenSSL::Digest.new("SHA256").file(path).hexdigest }
        told = {format: FORMAT, song: song.to_data, lanes: lanes, voices: voices.map { |voice| [voice.key, voice.channels, voice.lanes] }, files: files, how: how}
        OpenSSL::Digest.hexdigest("SHA256", JSON.generate(told))
      end

      def unchanged(out, digest)
        kept = before(out)
        return nil unless kept && kept["digest"] == digest && kept["files"].all? { |name, bytes| File.size?(File.join(out, name)) == bytes }

        {**kept.slice("song", "frames", "sample_rate_hz", "clipped").transform_keys(&:to_sym), folder: out, files: kept["files"].keys, unchanged: true}
      end

      # @return [Hash, nil] what the record says, nil where there is none
      def before(out)
        kept = JSON.parse(File.read(File.join(out, RECORD)))
        kept if kept.is_a?(Hash) && kept["files"].is_a?(Hash)
      rescue SystemCallError, JSON::ParserError
        nil
      end

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
