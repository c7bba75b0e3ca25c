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
end
