# frozen_string_literal: true

# How long it is from a tap on the simulated stage to its verdict at a page, through desk, card, engine, ring, ear, server,
# database and event line:
#   bundle exec ruby bench/linecheck.rb [taps]
$LOAD_PATH.unshift File.expand_path("../spec", __dir__)
require_relative "../demo/lanterns"
require "support/installation"
require "support/throw_away_database"
require "tmpdir"

taps = Integer(ARGV[0] || 24)
folder = Dir.mktmpdir("loomshuttle-bench", File.directory?("/dev/shm") ? "/dev/shm" : nil)
installation = Installation.new(folder).start("standin", "engine", "ear", "server")
now = -> { Process.clock_gettime(Process::CLOCK_MONOTONIC) }
begin
  installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
  api = ->(path, body) { installation.api("post", "#{installation.show}/#{path}", body).last }
  installation.wait("the desk") { installation.api("get", "#{installation.show}/simulation").last["simulated"] }
  heard = Queue.new
  Thread.new do
    Net::HTTP.start("127.0.0.1", installation.services.ports["http"], read_timeout: 600) do |http|
      http.request(Net::HTTP::Get.new("/api/events")) { |answer| answer.read_body { |part| heard << now.call if part.include?("event: linecheck") } }
    end
  end
  api.call("simulation", {do: "quiet", on: true})
  api.call("linecheck", {do: "start"})
  installation.wait("the ear") { installation.api("get", "#{installation.show}/linecheck").last["ear"]["ready"] }
  times = (0...taps).filter_map do |n|
    row = "list/row/#{n % 12 + 1}"
    api.call("linecheck", {do: "again", rows: [row]})
    sleep 1.6
    heard.clear
    start_s = now.call
    api.call("simulation", {do: "tap", row: row})
    deadline_s = start_s + 3
    sleep 0.001 while heard.empty? && now.call < deadline_s
    told_s = heard.pop unless heard.empty?
    told_s && ((told_s - start_s) * 1000).round
  end
  sorted = times.sort
  puts JSON.generate(taps: taps, heard: times.size, ms_middle: sorted[sorted.size / 2], ms_most: sorted.last)
ensure
  installation.stop
  FileUtils.rm_rf(folder)
end
