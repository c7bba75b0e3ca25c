# frozen_string_literal: true

# Faults planted one by one into a copy of the product, and whether the specs find each: for a change of the specs
# themselves, with another commit's specs and product beside it.
#
#   bundle exec ruby bench/planted.rb [COMMIT]
#
# Each copy has the installed libraries of this one. A page is built anew where a fault lies in one.
require "bundler/setup"
$stdout.sync = true
require "fileutils"
require "open3"
require "tmpdir"

# One change of one place of the product, and the specs that are there to find it.
Fault = Struct.new(:file, :from, :to, :specs) do
  def page? = file.start_with?("web/src/ui", "web/src/theme", "web/src/features")
end

FAULTS = [
  Fault.new("core/checks/tap_choice.rb", "edge.tap == FOLLOWING", "edge.tap != FOLLOWING", %w[spec/core/checks]),
  Fault.new("engine/clock.rb", "* @rate_hz).round - (@frame - @pair.frame)", "* 0).round", %w[spec/engine/recording_spec.rb]),
  Fault.new("deck/control.rb", "kept[\"position\"] + ahead - kept[\"at_frame\"]", "kept[\"position\"]", %w[spec/engine/recording_spec.rb]),
  Fault.new("server/levels_wanted.rb", "(first..last).to_a", "(first...last).to_a", %w[spec/web/model_spec.rb]),
  Fault.new("standin/routing.rb", "@console.mutes[channel] || ", "", %w[spec/standin spec/server/proving_spec.rb]),
  Fault.new("files/programs.rb", "program.length_frames].min", "program.length_frames].max", %w[spec/files spec/deck spec/engine/recording_spec.rb]),
  Fault.new("rings/clock_page.rb", "== check(body)", "!= -1", %w[spec/rings]),
  Fault.new("cli/app.rb", "? \"mended\" : \"whole already\"", "? \"whole already\" : \"mended\"", %w[spec/cli]),
  Fault.new("earshot/hearing.rb", "@arrivals = [] if @anew", "", %w[spec/runtime/hearing_spec.rb spec/server/linecheck_spec.rb]),
  Fault.new("runtime/line_server.rb", "(Process::CLOCK_MONOTONIC) > request", "(Process::CLOCK_MONOTONIC) < request", %w[spec/runtime]),
  Fault.new("web/src/model/sections.ts", "({ bar }) => bar <= to)", "({ bar }) => bar < to)", %w[spec/web]),
  Fault.new("web/src/api/freshClient.ts", "state.data === undefined", "state.data !== undefined", %w[spec/web]),
  Fault.new("web/src/theme/theme.ts", "FINGER_PX = 44", "FINGER_PX = 38", %w[spec/browser/sizes_spec.rb]),
  Fault.new("web/src/theme/theme.ts", "secondary: \"#5f584c\"", "secondary: \"#a09a90\"", %w[spec/browser/sizes_spec.rb])
].freeze

# A copy of the product as it is at one commit.
class Copy
  ROOT = File.expand_path("..", __dir__)

  def initialize(folder, commit)
    @folder = File.join(folder, commit)
    run("git", "clone", "-q", ROOT, @folder, chdir: ROOT)
    run("git", "checkout", "-q", commit)
    %w[vendor .bundle].each { |name| FileUtils.ln_s(File.join(ROOT, name), File.join(@folder, name)) }
    FileUtils.cp_r(File.join(ROOT, "web/node_modules"), File.join(@folder, "web"))
    build
  end

  # @return [String] whether the specs fail with it, and pass again without it
  def found(fault)
    path = File.join(@folder, fault.file)
    whole = File.read(path)
    return "is not there" unless whole.include?(fault.from)

    File.write(path, whole.sub(fault.from) { fault.to })
    build if fault.page?
    passes?(fault) ? "NOT FOUND" : "found"
  ensure
    File.write(path, whole)
    build if fault.page?
  end

  def passes?(fault) = run("bundle", "exec", "rspec", *fault.specs.select { |spec| File.exist?(File.join(@folder, spec)) }, fine: [0, 1]).zero?

  private

  def build = run("bash", "-c", ". bin/_setup; build_web")

  def run(*command, chdir: @folder, fine: [0])
    output, status = Open3.capture2e({"BUNDLE_GEMFILE" => nil, "RUBYOPT" => nil}, *command, chdir: chdir)
    raise "#{command.join(" ")}\n#{output.lines.last(20).join}" unless fine.include?(status.exitstatus)

    status.exitstatus
  end
end

Dir.mktmpdir("planted") do |folder|
  File.chmod(0o711, folder)
  copies = [*ARGV.first, `git rev-parse --short HEAD`.strip].to_h { |commit| [commit, Copy.new(folder, commit)] }
  # What fails by itself finds nothing.
  FAULTS.uniq(&:specs).each { |fault| copies.each { |commit, copy| puts "#{commit} #{fault.specs.join(" ")}: fails without a fault" unless copy.passes?(fault) } }
  FAULTS.each { |fault| puts "| `#{fault.file}`: `#{fault.from}` | #{copies.map { |commit, copy| "#{commit} #{copy.found(fault)}" }.join(" | ")} |" }
end
