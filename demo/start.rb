# frozen_string_literal: true

# Starts everything under runit's supervisor, which starts again whatever dies, loads the
# demo into an empty database and prints the address. Ends with Ctrl+C.
require_relative "../boot/services"
require_relative "../boot/cluster"
require "net/http"
require "shellwords"

data = File.expand_path(ENV.fetch("LOOMSHUTTLE_DATA", File.join(Loomshuttle::Services::ROOT, "data")))
wanted = Loomshuttle::Services::PORTS.to_h { |name| [name, ENV["LOOMSHUTTLE_#{name.upcase}_PORT"]&.to_i] }.compact
kept = File.join(data, "run/ports.json")
wanted = JSON.parse(File.read(kept)).merge(wanted) if File.exist?(kept)

# A port of last time that somebody else has now is chosen anew.
wanted = wanted.select do |_, port|
  TCPServer.new("127.0.0.1", port).close || true
rescue SystemCallError
  false
end
services = Loomshuttle::Services.new(data: data, ports: wanted)
File.write(kept, JSON.generate(services.ports))
cluster = Loomshuttle::Cluster.new(data: data, port: services.ports["postgres"])
cluster.prepare

supervised = File.join(data, "run/services")
FileUtils.rm_rf(supervised)
{"postgres" => cluster.command, **services.commands}.each do |name, command|
  folder = File.join(supervised, name)
  FileUtils.mkdir_p(folder)
  log = File.join(data, "run/#{name}.log")
  File.write(File.join(folder, "run"), "#!/bin/sh\ncd #{Shellwords.escape((name == "postgres") ? "/" : Loomshuttle::Services::ROOT)}\n" \
    "exec #{Shellwords.join(command)} >>#{Shellwords.escape(log)} 2>&1\n")
  File.chmod(0o755, File.join(folder, "run"))
end

supervisor = spawn(services.environment, "runsvdir", "-P", supervised)
%w[INT TERM].each { |signal| trap(signal) { exit } }
# runit ends its services in good order when its supervisor is hung up.
at_exit do
  Process.kill("HUP", supervisor)
  Process.wait(supervisor)
rescue SystemCallError
  nil
end
cluster.ready
system(services.environment, "bundle", "exec", "ruby", "demo/load.rb", "--take", exception: true)

address = URI("http://127.0.0.1:#{services.ports["http"]}/api/show")
1200.times do
  break if Net::HTTP.get_response(address).is_a?(Net::HTTPOK)

  sleep 0.1
rescue SystemCallError
  sleep 0.1
end
puts "Loomshuttle is at http://127.0.0.1:#{services.ports["http"]}/  (Ctrl+C ends it)"
$stdout.flush
Process.wait(supervisor)
