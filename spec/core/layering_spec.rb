# frozen_string_literal: true

require "core_helper"
require "open3"

# The core must stay usable without a server, a socket or a file.
RSpec.describe "The core's layering" do
  it "loads neither database, web server nor OSC" do
    script = 'require "./boot/core"; print %w[Sequel Sinatra Rack Puma OSC PG].select { |name| Object.const_defined?(name) }.join(" ")'
    output, status = Open3.capture2e("bundle", "exec", "ruby", "-e", script, chdir: Loomshuttle::ROOT)
    expect([status.success?, output]).to eq([true, ""])
  end

  it "names no socket, file, clock, environment or randomness" do
    offences = Dir[File.join(Loomshuttle::ROOT, "core/**/*.rb")].flat_map do |path|
      File.readlines(path).grep(/\b(File|Dir|ENV|Process|Random|TCPSocket|UDPSocket|IO\.popen)\.|\bTime\.now\b|\brand\b|\bsleep\b/).map do |line|
        "#{path}: #{line.strip}"
      end
    end
    expect(offences).to eq([])
  end

  # From the ground up: a folder may name what stands before it, never what stands behind.
  order = %w[value bad_input refusal ids endpoint audio ear words music rig signal patch capture render show compare edits soundcheck checks screens linecheck lineup exchange]

  def constant(path) = path.delete_suffix(".rb").split("/").map { |name| (name == "i_xml") ? "IXml" : name.split("_").map(&:capitalize).join }.join("::")

  # What a file names, resolved as Ruby does: from its own module outward.
  def named(path, files)
    code = File.readlines(File.join(Loomshuttle::ROOT, "core", path)).grep_v(/^\s*#/).join.gsub(/"[^"]*"/) { |text| text.scan(/\#\{[^}]*\}/).join(" ") }
    own = constant(path).split("::")
    code.scan(/(?<![\w:])([A-Z]\w*(?:::[A-Z]\w*)*)/).flatten.uniq.filter_map do |name|
      own.size.downto(0).lazy.flat_map { |depth| name.split("::").size.downto(1).map { |length| [*own.first(depth), *name.split("::").first(length)].join("::") } }
        .find { |full| files.key?(full) }&.then { |full| files[full] }
    end
  end

  it "has arrows in one direction only, inside too" do
    paths = Dir["**/*.rb", base: File.join(Loomshuttle::ROOT, "core")]
    files = paths.to_h { |path| [constant(path), path] }
    folder = ->(path) { path.split("/").first.delete_suffix(".rb") }
    expect(paths.map(&folder).uniq).to match_array(order)
    offences = paths.flat_map { |path| named(path, files).select { |other| order.index(folder[other]) > order.index(folder[path]) }.map { |other| "#{path} names #{other}" } }
    expect(offences).to eq([])
  end
end
