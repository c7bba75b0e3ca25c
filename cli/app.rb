# frozen_string_literal: true

require "thor"

module Loomshuttle
  module Cli
    # The `loomshuttle` command over the core alone. Exit codes: 0 fine, 1 findings of
    # severity stop, a swing that cannot be turned back or shows that differ, 2 unusable input, said in one line on standard error.
    class App < Thor
      FINE = 0
      STOPPED = 1
      UNUSABLE = 2

      # An example of each, which `help COMMAND` shows.
      EXAMPLES = {"check" => "check demo/lanterns.loom.json", "trace" => "trace demo/lanterns.loom.json desk/channel/9 --back", "inspect" => "inspect takes/*.wav --json",
                  "listen" => "listen data/takes/lanterns/take-001 --json", "match" => "match demo/lanterns.loom.json data/takes/lanterns/take-001", "bounce" => "bounce demo/lanterns.loom.json --songs data/songs --out bounced", "click" => "click --bpm 127 --meter 4/4 --bars 16 --count-in 1 --rate 48000 --out click.wav", "verify" => "verify data/takes/lanterns/take-001", "recover" => "recover data/takes/lanterns/take-001", "devices" => "devices --json",
                  "doctor" => "doctor --lanes 64 --folder /media/takes", "swing" => "swing demo/lanterns.loom.json --to recorder --keep desk/channel/12",
                  "budget" => "budget demo/lanterns.loom.json --free-gb 500 --distance 40", "paper" => "paper demo/lanterns.loom.json --pdf sheets.pdf",
                  "backup" => "backup /media/stick/monday --takes", "restore" => "restore /media/stick/monday",
                  "compare" => "compare before.loom.json after.loom.json"}.freeze
      private_constant :EXAMPLES

      def self.exit_on_failure? = true
      def self.version = YAML.safe_load_file(File.join(ROOT, "api/openapi.yaml")).dig("info", "version")

      map %w[--version -v] => :version
      desc "version", "which Loomshuttle this is"
      def version = puts("Loomshuttle #{self.class.version}")

      def help(command = nil, *)
        super
        puts "", "Example: bin/loomshuttle #{EXAMPLES[command]}" if EXAMPLES.key?(command)
        puts "", "bin/loomshuttle help COMMAND shows each with an example." if command.nil?
      end

      desc "check SHOW", "run every check over a show file"
      method_option :json, type: :boolean, desc: "print an array of findings"
      def check(path)
        findings = usable { Checks::All.findings(show(path)) }
        options[:json] ? print_json(findings.map(&:to_data)) : print_findings(findings)
        exit((findings.any? { |finding| finding.severity == "stop" && !finding.accepted }) ? STOPPED : FINE)
      end

      desc "trace SHOW ENDPOINT", "follow a signal, e.g. desk/channel/9"
      method_option :back, type: :boolean, desc: "to where it comes from"
      method_option :json, type: :boolean
      def trace(path, endpoint)
        trace = usable { Signal::Trace.public_send(options[:back] ? :back : :forward, show(path), endpoint) }
        options[:json] ? print_json(trace.to_data) : puts(trace.sentence)
      end

      desc "inspect FILE...", "what WAV files hold: format, names, markers, levels"
      method_option :json, type: :boolean, desc: "print an array, one object a file; a bad one is {file, error}"
      # Thor needs a method of the command's name; Object#inspect takes no arguments and is
      # kept for those who call it without.
      def inspect(*paths)
        return super() if paths.empty? && options.nil?

        fail_with("inspect: name at least one file") if paths.empty?
        answer(paths.map { |path| inspected(path) }) { |report| print_report(report) }
      end

      desc "listen FILE|DIR...", "what each lane of WAV files sounds like: level, floor, clips, silence, hum, first sound; and each two together"
      method_option :json, type: :boolean, desc: "print {lanes, pairs}; a bad file is {file, error}"
      def listen(*paths)
        fail_with("listen: name at least one file or folder") if paths.empty?
        report = usable { Listening.new(paths).report }
        options[:json] ? print_json(report) : print_heard(report)
        exit(UNUSABLE) if report[:lanes].any? { |lane| lane[:error] }
        exit(((report[:lanes] + report[:pairs]).all? { |one| one[:faults].empty? }) ? FINE : STOPPED)
      end

      desc "match SHOW DIR", "which WAV file of a folder goes to which track of a show, by its name, with how well and why"
      method_option :json, type: :boolean, desc: "print {matched, loose, unfilled}"
      def match(path, folder)
        planned = usable { show(path) }
        found = usable { Soundcheck::Matching.match(planned.tracks.values, TakeFolder.new(folder).channels) }
        options[:json] ? print_json(found) : print_match(planned, found)
        exit((found[:matched].all? { |one| one[:sure] } && found[:loose].empty? && found[:unfilled].empty?) ? FINE : STOPPED)
      end

      desc "click", "a click as a WAV file, from a tempo or a MIDI file's map"
      method_option :bpm, desc: "quarter notes a minute, or what --beat says"
      method_option :beat, desc: "the note that --bpm counts, as in 1/8 or 3/8"
      method_option :meter, desc: "time signature, 4/4 without"
      method_option :map, desc: "a MIDI file with tempi and time signatures, in place of the three above"
      method_option :bars, desc: "how many; with --map, up to its last event"
      method_option :subdivide, desc: "clicks a beat: 2 eighths of a quarter, 3 triplets"
      method_option :accent, desc: "accented beats, as in 1,3, or none"
      method_option :count_in, desc: "bars before the first"
      method_option :sound, desc: Music::ClickSounds::NAMES.join(", ")
      method_option :level, desc: "dB, 0 without"
      method_option :rate, desc: "Hz"
      method_option :out, desc: "a WAV file to write"
      method_option :json, type: :boolean
      def click
        made = usable do
          raise BadInput.new(field: "out", value: nil, allowed: "a WAV file to write, with --out FILE") unless options[:out]

          Click.new(options.to_h).write(options[:out])
        end
        options[:json] ? print_json(made) : puts("#{made[:file]}: #{made[:clicks]} clicks, #{made[:frames]} frames at #{made[:sample_rate_hz]} Hz, bar 1 at frame #{made[:bar_1_frame]}")
      end

      desc "bounce SHOW", "songs with click and count-in as WAV files, one a lane; a song, or the whole set list in a folder each"
      method_option :song, desc: "a song's title or id; the whole set list without"
      method_option :arrangement, desc: "one of the song's"
      method_option :out, desc: "a folder"
      method_option :one_file, type: :boolean, desc: "one file of many channels, a channel a lane"
      method_option :songs, desc: "where stems lie; else beside the show file, or in its folder songs"
      method_option :json, type: :boolean
      def bounce(path)
        reports = usable { bounced(Files::Bounce.new(show(path)) { |song, file, _| stem_path(song, file, [*(options[:songs] || [File.join(File.dirname(path), "songs"), File.dirname(path)])]) }) }
        reports.each { |report| print_bounce(report) } unless options[:json]
        print_json(options[:song] ? reports.first : reports) if options[:json]
        exit((reports.all? { |report| report[:clipped].values.all?(&:zero?) }) ? FINE : STOPPED)
      end

      desc "verify FOLDER", "whether the files of a take are whole: length, header, checksum"
      method_option :json, type: :boolean
      def verify(folder)
        answer(usable { TakeFolder.new(folder).verify }) { |report| puts "#{report[:file]}: #{report[:faults].empty? ? "fine" : report[:faults].join("; ")}" }
      end

      desc "recover FOLDER", "make whole what a recorder that was cut off left"
      method_option :json, type: :boolean
      def recover(folder)
        answer(usable { TakeFolder.new(folder).recover }) { |report| puts "#{report[:file]}: #{report[:frames]} frames, #{report[:mended] ? "mended" : "whole already"}" }
      end

      desc "devices", "audio devices of this machine, with what each can do"
      method_option :json, type: :boolean
      def devices
        found = Engine::Device::Alsa::Cards.list(more: ENV.fetch("LOOMSHUTTLE_ALSA", "").split(","))
        return print_json(found) if options[:json]

        puts "no audio interface is seen by ALSA" if found.empty?
        found.each { |one| puts "#{one[:id]}  #{one[:label]}: #{one[:fault] || "#{one[:lanes_in] || 0} lanes in, #{one[:lanes_out] || 0} out, #{one[:rates_hz].join(", ")} Hz, #{one[:formats].join(", ")}"}" }
      end

      desc "backup FOLDER", "the database, the library's songs and, with --takes, the takes into a new folder, with checksums"
      method_option :data, desc: "the data folder, else LOOMSHUTTLE_DATA or ~/loomshuttle"
      method_option :takes, type: :boolean, desc: "the takes too"
      def backup(folder)
        list = usable { installation.make(File.expand_path(folder), takes: options[:takes]) }
        puts "#{list["files"].size} files in #{folder}#{", without takes" unless list["takes"]}"
      end

      desc "restore FOLDER", "put a back-up in place of what is there; that is backed up first"
      method_option :data, desc: "the data folder, else LOOMSHUTTLE_DATA or ~/loomshuttle"
      def restore(folder)
        before = usable { installation.restore(File.expand_path(folder)) }
        puts before ? "restored; what was there before is in #{before}" : "restored"
      end

      desc "doctor", "whether this machine is fit to record"
      method_option :lanes, type: :numeric, default: 32
      method_option :folder, default: ".", desc: "where takes will lie"
      method_option :json, type: :boolean
      def doctor
        report = usable { Doctor.new(lanes: options[:lanes].to_i, folder: options[:folder]).report }
        if options[:json]
          print_json(report)
        else
          report.each { |one| puts "#{one[:fine] ? "fine " : "CHECK"} #{one[:about]}: #{one[:found]}", *(one[:advice] && "      #{one[:advice]}") }
        end
        exit((report.all? { |one| one[:fine] }) ? FINE : STOPPED)
      end

      desc "swing SHOW", "plan the turn of the desk's channels to the recorder or back"
      method_option :to, enum: %w[recorder stage], default: "recorder"
      method_option :keep, type: :array, default: [], desc: "channels that stay on the stage, e.g. desk/channel/12"
      method_option :desk, desc: "one desk's id; all of them without"
      method_option :json, type: :boolean
      def swing(path)
        planned = usable { show(path) }
        plan = usable { planned_swing(planned) }
        fail_with(plan.why) if plan.is_a?(Refusal)
        options[:json] ? print_json(plan.to_data(planned)) : print_swing(planned, plan)
        exit(plan.proved ? FINE : STOPPED)
      end

      desc "budget SHOW", "lanes, disk, buffer latency and the delay of a distance"
      method_option :free_gb, type: :numeric, default: 100, desc: "free space on the disk, in GB of 10^9 bytes"
      method_option :buffer, type: :numeric, default: 256, desc: "frames"
      method_option :distance, type: :numeric, default: 0, desc: "m, from loudspeaker to loudspeaker"
      method_option :temperature, type: :numeric, default: 20, desc: "degrees Celsius"
      method_option :json, type: :boolean
      def budget(path)
        report = usable { Budget.of(show(path), **budget_options) }
        options[:json] ? print_json(report) : Budget.words(report).each { |line| puts line }
      end

      desc "paper SHOW", "write the patch sheets"
      method_option :pdf, desc: "a PDF file to write"
      method_option :csv, desc: "a folder to write one CSV file a sheet into"
      method_option :size, default: "A4", desc: "A4 or Letter"
      method_option :sheets, type: :array, default: Exchange::Sheets::KEYS, desc: Exchange::Sheets::KEYS.join(", ")
      def paper(path)
        fail_with("paper: say where to, with --pdf FILE or --csv FOLDER") unless options[:pdf] || options[:csv]
        usable { write_paper(show(path)) }
      end

      desc "compare SHOW_A SHOW_B", "what differs between two show files, in words"
      method_option :json, type: :boolean
      def compare(one, other)
        changes = usable { Compare::Shows.of(show(one), show(other)) }
        if options[:json]
          print_json(changes)
        else
          puts(changes.empty? ? "nothing differs" : changes.map { |change| change[:words] })
        end
        exit(changes.empty? ? FINE : STOPPED)
      end

      no_commands do
        # Good ones are answered beside bad ones, in the order given.
        def answer(reports)
          if options[:json]
            print_json(reports)
          else
            reports.each { |report| report[:error] ? warn("#{report[:file]}: #{report[:error]}") : yield(report) }
          end
          exit(UNUSABLE) if reports.any? { |report| report[:error] }
          exit((reports.all? { |report| report.fetch(:faults, report.fetch(:warnings, [])).empty? }) ? FINE : STOPPED)
        end

        def inspected(path)
          File.open(path, "rb") { |io| Audio::Inspection.of(io, path) }
        rescue BadInput, SystemCallError => e
          {file: path, error: e.message}
        end

        def bounced(bounce)
          out = options[:out] or raise BadInput.new(field: "out", value: nil, allowed: "a folder, with --out FOLDER")
          raise BadInput.new(field: "out", value: out, allowed: "a folder") if File.exist?(out) && !File.directory?(out)
          return [bounce.write(bounce.song(options[:song]), out, one_file: options[:one_file], arrangement: options[:arrangement])] if options[:song]
          raise BadInput.new(field: "arrangement", value: options[:arrangement], allowed: "one song's, with --song") if options[:arrangement]

          bounce.set.map.with_index(1) { |song, number| bounce.write(song, File.join(out, Capture::FileName.of(number, song.title).delete_suffix(".wav")), one_file: options[:one_file]) }
        end

        # In a folder of the song's id, or as it is.
        def stem_path(song, file, folders)
          tried = folders.flat_map { |folder| [File.join(folder, song.id, file), File.join(folder, file)] }
          tried.find { |path| File.file?(path) } || raise(BadInput.new(field: "stem", value: file, allowed: "a file in #{folders.join(" or ")}, or there in #{song.id}; name its folder with --songs"))
        end

        def print_bounce(report)
          return puts("#{report[:song]}: unchanged, #{report[:files].size} files in #{report[:folder]}") if report[:unchanged]

          puts "#{report[:song]}: #{report[:files].join("; ")} in #{report[:folder]}, #{report[:frames]} frames at #{report[:sample_rate_hz]} Hz"
          report[:clipped].reject { |_, count| count.zero? }.each { |lane, count| puts "  #{lane}: #{count} samples were clipped" }
        end

        def planned_swing(show)
          (options[:to] == "recorder") ? Soundcheck::Swing.to_recorder(show, keep: options[:keep], desk: options[:desk]) : Soundcheck::Swing.to_stage(show, desk: options[:desk])
        end

        def print_swing(show, plan)
          plan.changes.each { |change| puts "#{change[:slot]}: #{change[:from] || "nothing"} -> #{change[:to] || "nothing"}" }
          puts plan.words(show)
        end

        def budget_options
          {free_bytes: (options[:free_gb] * 10**9).to_i,
           buffer_frames: options[:buffer].to_i,
           distance_m: options[:distance].to_f,
           temperature_c: options[:temperature].to_f}
        end

        def write_paper(show)
          date = Time.now.strftime("%Y-%m-%d")
          if options[:pdf]
            File.binwrite(options[:pdf], Paper::Pdf.new(show, date: date, size: options[:size], keys: options[:sheets]).render)
          end
          return unless options[:csv]

          FileUtils.mkdir_p(options[:csv])
          Exchange::Sheets.of(show, options[:sheets]).each do |sheet|
            File.write(File.join(options[:csv], Exchange::Sheets.file_name(sheet)), Exchange::Sheets.csv(sheet))
          end
        end

        def installation
          require_relative "../boot/backup"
          Backup.new(options[:data] || ENV.fetch("LOOMSHUTTLE_DATA") { File.join(Dir.home, "loomshuttle") }, say: ->(what) { puts what })
        end

        def show(path)
          Shelf.show_file.parse(File.read(path, encoding: "UTF-8"))
        end

        # Turns bad input into one line and exit code 2.
        def usable
          yield
        rescue BadInput => e
          e.faults.each { |fault| warn fault.message.lines.map(&:strip).join(" ") }
          exit UNUSABLE
        rescue SystemCallError => e
          fail_with("file: #{e.message}")
        end

        def fail_with(message)
          warn message.lines.map(&:strip).join(" ")
          exit UNUSABLE
        end

        def print_json(data) = puts(JSON.pretty_generate(data))

        def print_findings(findings)
          findings.each do |finding|
            puts "#{finding.accepted ? "accepted" : finding.severity}  #{finding.title}", "      #{finding.what} #{finding.why}"
            puts "      #{finding.mend.label}" if finding.mend
          end
          puts "nothing found" if findings.empty?
        end

        def print_match(show, found)
          channel = ->(one) { (found.values.first(2).flatten.count { |other| other[:file] == one[:file] } > 1) ? " (#{one[:channel]})" : "" }
          found[:matched].each { |one| puts "#{one[:file]}#{channel[one]} -> #{show.tracks[one[:track]].name}: #{one[:score]}, #{one[:why]}#{", not sure" unless one[:sure]}" }
          found[:loose].each { |one| puts "#{one[:file]}#{channel[one]}: nowhere, #{one[:why]}" }
          puts "without a file: #{found[:unfilled].map { |id| show.tracks[id].name }.join(", ")}" if found[:unfilled].any?
        end

        def sound(lane)
          return "first sound at #{(lane[:onset_frame] / lane[:sample_rate_hz].to_f).round(3)} s" if lane[:onset_frame]

          "nothing but #{(lane[:silence] == "digital") ? "digital silence" : "noise"}"
        end

        # Of two lanes only what is worth knowing.
        def print_heard(report)
          report[:lanes].each do |lane|
            next warn("#{lane[:file]}: #{lane[:error]}") if lane[:error]

            words = sound(lane)
            puts "#{lane[:file]}, channel #{lane[:channel]}: peak #{lane[:peak_dbfs]} dBFS, rms #{lane[:rms_dbfs]} dBFS, floor #{lane[:floor_dbfs]} dBFS, #{words}",
              *lane[:faults].map { |fault| "  #{fault}" }
          end
          report[:pairs].select { |pair| pair[:likeness] >= 0.5 }.each do |pair|
            puts "#{pair[:one]} and #{pair[:other]}: #{pair[:likeness]} alike, the second #{pair[:delay_frames]} frames later", *pair[:faults].map { |fault| "  #{fault}" }
          end
        end

        def print_report(report)
          puts "#{report[:file]}: #{report[:container]}, #{report[:channels]} channels, #{report[:encoding]} #{report[:bits]} bit, #{report[:sample_rate_hz]} Hz, #{report[:frames]} frames"
          report[:levels].each.with_index(1) do |level, channel|
            puts "  #{channel}: peak #{level[:peak_dbfs]} dBFS, rms #{level[:rms_dbfs]} dBFS, clipped runs #{level[:clipped_runs]}"
          end
          report[:warnings].each { |warning| puts "  warning: #{warning}" }
        end
      end
    end
  end
end
