# frozen_string_literal: true

require "net/http"
require_relative "../../boot/services"
require_relative "../../boot/runtime"
require_relative "loaded_data"
require_relative "of_contract"
require_relative "ready_processes"
require_relative "throw_away_database"

# A whole installation in a folder of its own: real PostgreSQL, stand-in, engine and
# server, started as the supervisor starts them. Processes are ended by their ids.
class Installation
  # What is started counts as reached too, where that is asked for: see support/coverage.rb.
  COVERED = ENV["COVERAGE"] ? {"RUBYOPT" => "-rbundler/setup -r#{File.join(__dir__, "coverage")}"}.freeze : {}.freeze
  private_constant :COVERED

  attr_reader :services, :folder

  # @param speed [Integer] how many times as fast the desk's clock runs, where nothing is held against another clock
  def initialize(folder, show: nil, speed: 1)
    @folder, @speed = folder, speed
    @services = Loomshuttle::Services.new(data: folder)
    @show = show
    @pids = {}
  end

  def address = "http://127.0.0.1:#{services.ports["http"]}"
  def wire_log = File.join(folder, "wire.log")

  # @param names [Array<String>] of standin, engine (which brings the deck), server (which brings
  #   the database)
  # @param environment [Hash] what those processes find in their environment besides
  def start(*names, environment: {})
    start_database if names.include?("server") && @database.nil?
    names += ["deck"] if names.include?("engine") && !@pids.key?("deck")
    names.each { |name| start_process(name, environment) }
    wait("the server") { Net::HTTP.get_response(URI("#{address}/api/shows")).is_a?(Net::HTTPOK) } if names.include?("server")
    self
  end

  def start_process(name, environment = {})
    @pids[name] = ReadyProcesses.start(name, services.commands.fetch(name), (name == "standin") ? [@show].compact : [],
      {**services.environment, **COVERED, "LOOMSHUTTLE_WIRE_LOG" => wire_log, "LOOMSHUTTLE_STANDIN_SPEED" => @speed.to_s, **environment}, File.join(folder, "#{name}.log"))
  end

  def kill(name, signal = "KILL")
    pid = @pids.delete(name)
    Process.kill(signal, pid)
    ReadyProcesses.ended(pid)
    pid
  end

  def stop_database = @database.stop
  def restart_database = @database.start

  def stop
    @pids.keys.each { |name| ReadyProcesses.there?(pid(name)) ? kill(name, "TERM") : warn("#{name} had ended by itself") }
    FileUtils.rm_rf(services.rings)
    return unless @database

    @database.stop
    @database.remove
  end

  def pid(name) = @pids.fetch(name)

  # Asks the engine over its control socket.
  def engine(request) = ask(services.engine_socket, request)
  # Asks the deck.
  def deck(request) = ask(services.deck_socket, request)

  def ask(socket, request)
    wait("an answer of #{File.basename(socket)}") do
      [Loomshuttle::Runtime::LineClient.new(socket, who: "it").ask(request, seconds: 30)]
    rescue Loomshuttle::Runtime::Gone
      nil
    end.first
  end

  def api(method, path, body = nil, headers = {})
    request = Net::HTTP.const_get(method.capitalize).new(path, {"content-type" => "application/json", **headers})
    request.body = body.is_a?(String) ? body : JSON.generate(body) if body
    answer = Net::HTTP.start("127.0.0.1", services.ports["http"]) { |http| http.request(request) }
    OfContract.check(method, path, answer)
    [answer.code.to_i, JSON.parse(answer.body)]
  end

  # Where the API has the show that the specs work at: the demo show, or the last that was performed.
  def show = "/api/shows/#{show_id}"
  def show_id = @show_id || 1

  # Works at a show that is there already, and puts it on air.
  def stand_at(id)
    @show_id = id
    # A stage that is being set up does not answer meanwhile.
    wait("the show on air") { api("post", "#{show}/on-air", {direction: "send"}).first == 200 }
  end

  # Makes a show of a show file and puts it on air; the desk is set up as it is planned.
  #
  # @param file [Loomshuttle::Show, String]
  def perform(file)
    file = Loomshuttle::Exchange::ShowFile.write(file) unless file.is_a?(String)
    status, made = api("post", "/api/shows/file", file)
    raise "#{status}: #{made}" unless status == 200

    stand_at(made["id"])
  end

  # Waits on a condition, never on time alone.
  def wait(what, seconds: Integer(ENV.fetch("LOOMSHUTTLE_WAIT_S", "120")))
    deadline = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
    loop do
      found = begin
        yield
      rescue SystemCallError, EOFError
        nil
      end
      return found if found
      raise "#{what} did not come in #{seconds} s; #{ends}" if Process.clock_gettime(Process::CLOCK_MONOTONIC) > deadline

      sleep 0.05
    end
  end

  private

  # What each process said last, and whether it still runs: why something did not come.
  def ends
    @pids.map do |name, pid|
      log = File.join(folder, "#{name}.log")
      said = File.exist?(log) ? File.readlines(log).last(3).join.strip : ""
      "#{name} #{ReadyProcesses.there?(pid) ? "runs" : "has ended"}: #{said}"
    end.join("; ")
  end

  def start_database
    LoadedData.copy_into(folder)
    @database = ThrowAwayDatabase.new(folder, port: services.ports["postgres"]).start
  end
end
