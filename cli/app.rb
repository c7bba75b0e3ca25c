# frozen_string_literal: true

require "thor"

module Loomshuttle
  module Cli
    # The `loomshuttle` command over the core alone. Exit codes: 0 fine, 1 findings of
    # severity stop, 2 unusable input, said in one line on standard error.
    class App < Thor
      FINE = 0
      STOPPED = 1
      UNUSABLE = 2

      def self.exit_on_failure? = true

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
      method_option :json, type: :boolean, desc: "print an array, one object a file"
      # Thor needs a method of the command's name; Object#inspect takes no arguments and is
      # kept for those who call it without.
      def inspect(*paths)
        return super() if paths.empty? && !options&.key?(:json)

        reports = usable { paths.map { |path| File.open(path, "rb") { |io| Audio::Inspection.of(io, path) } } }
        options[:json] ? print_json(reports) : reports.each { |report| print_report(report) }
      end

      no_commands do
        def show(path) = Exchange::ShowFile.new(schema: Shelf.show_schema, profiles: Shelf.profiles).parse(File.read(path, encoding: "UTF-8"))

        # Turns bad input into one line and exit code 2.
        def usable
          yield
        rescue BadInput => e
          fail_with(e.message)
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

        def print_report(report)
          puts "#{report[:file]}: #{report[:container]}, #{report[:channels]} channels, #{report[:encoding]} #{report[:bits]} bit, #{report[:sample_rate_hz]} Hz, #{report[:frames]} frames"
          report[:levels].each.with_index(1) { |level, channel| puts "  #{channel}: peak #{level[:peak_dbfs]} dBFS, rms #{level[:rms_dbfs]} dBFS, clipped runs #{level[:clipped_runs]}" }
          report[:warnings].each { |warning| puts "  warning: #{warning}" }
        end
      end
    end
  end
end
