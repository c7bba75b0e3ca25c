# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Makes a song of the library from files: what each is, is guessed from its name and settled by hand; the
      # worker brings all to the library's rate and works out how loud they are.
      class MakeSong
        # @param songs [Store::Songs]
        # @param imports [Store::Imports]
        # @param tasks [Store::Tasks]
        # @param landing [Landing]
        # @param room_bytes [#call] => free on the disk, nil where nobody knows
        # @param data_folder [String]
        def initialize(songs:, imports:, tasks:, landing:, room_bytes:, data_folder:)
          @songs, @imports, @tasks, @landing, @room_bytes, @data_folder = songs, imports, tasks, landing, room_bytes, data_folder
        end

        def open(files) = @landing.open(nil, files, @room_bytes.call)
        def open_folder(path) = @landing.open_folder(nil, path)

        # @return [Hash] state, task, title: a guess; files, each with the role that its name says
        def plan(id)
          import = @imports.find(nil, id)
          known = @songs.role_names
          files = @imports.files(id)
          {id: id, state: import[:state], task: import[:task_id], title: import[:source] ? File.basename(import[:source]) : "", rate_hz: @songs.rate_hz,
           files: files.map { |file| file.slice(:number, :title, :bytes, :landed, :holds, :fault).merge(role: Loomshuttle::Words::RoleNames.guess(file[:title], known)) }}
        end

        # @param given [Hash] string keys: title, bpm, beats_per_bar, keep (the original files), stems
        #   [{"file" (its number), "name", "role"}], show (whose set list it goes into)
        # @return [Integer] id of the task
        # @raise [BadInput]
        def accept(id, given)
          import = @imports.find(nil, id)
          raise BadInput.new(field: "import", value: import[:state], allowed: "one that is open") unless import[:state] == "open"

          check(@imports.files(id).to_h { |file| [file[:number], file] }, given["stems"])
          song = given.slice("title", "bpm", "beats_per_bar", "stems", "keep", "show").transform_keys(&:to_sym)
          @tasks.begin("song_make", "Making the song #{given["title"]}", import: id, rate_hz: @songs.rate_hz, **song).tap { |task| @imports.task(id, task, state: "making") }
        end

        # The tempo of a song's click stem, by its own onsets.
        #
        # @return [Hash] stem, bpm, first_frame, stray_ms, clicks
        # @raise [BadInput] without such a stem, or where it has no even row of clicks
        def heard_tempo(id)
          stem = @songs.find(id)[:stems].find { |one| one[:role].start_with?(Show::CLICK_ROLE) } or
            raise BadInput.new(field: "stem", value: nil, allowed: "a song with a stem whose role is #{Show::CLICK_ROLE}")
          source = Files::WavSource.new(Runtime::Inside.path(@data_folder, "songs/#{@songs.folder(id)}/#{stem[:file]}"))
          found = Music::FoundTempo.of(Files::ClickOnsets.of(source), source.rate_hz) or
            raise BadInput.new(field: "stem", value: stem[:name], allowed: "a stem with at least #{Music::FoundTempo::CLICKS_MIN} clicks")
          {stem: stem[:name], **found.to_h}
        rescue SystemCallError => e
          raise BadInput.new(field: "stem", value: stem[:name], allowed: "a file that can be read: #{e.message}")
        ensure
          source&.close
        end

        private

        def check(files, stems)
          raise BadInput.new(field: "stems", value: 0, allowed: "at least one file") if stems.empty?

          stems.each do |stem|
            unless files[stem["file"]]&.fetch(:holds)
              raise BadInput.new(field: "file", value: stem["file"], allowed: "a file of this import that could be read")
            end
          end
          twice = stems.map { |stem| stem["file"] }.tally.find { |_, count| count > 1 }
          raise BadInput.new(field: "file", value: twice.first, allowed: "each file once") if twice
        end
      end
    end
  end
end
