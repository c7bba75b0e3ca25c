# frozen_string_literal: true

require "core_helper"
require "net/http"
require "open3"
require "socket"
require "tmpdir"
require "timeout"
require_relative "../../boot/services"

# bin/start's own part, with all processes under their supervisor.
RSpec.describe "Running on one's own data" do
  around do |example|
    Dir.mktmpdir("loomshuttle") do |folder|
      @data = File.join(folder, "own")
      example.run
    ensure
      stop if @pid
      # Supervisors of single services write into the folder to their last moment.
      Timeout.timeout(90) { sleep 0.05 while pid_of("runsv") }
    end
  end

  def start
    read, write = IO.pipe
    @pid = spawn({"LOOMSHUTTLE_DATA" => @data, "LOOMSHUTTLE_HTTP_PORT" => free_port}, "bundle", "exec", "ruby", "boot/start.rb", chdir: Loomshuttle::ROOT, out: write, err: File::NULL)
    write.close
    Timeout.timeout(240) { @address = read.gets[%r{http://\S+/}] }
  end

  def stop
    Process.kill("TERM", @pid)
    Process.wait(@pid)
    @pid = nil
  end

  # Of this data folder, by what they were started with; supervisors of single services may take a moment longer.
  def processes
    Dir["/proc/[0-9]*/cmdline"].map { |path|
      begin
        [File.read(path), File.read(path.sub("cmdline", "environ"))]
      rescue SystemCallError
        ["", ""]
      end
    }.select { |command, environment| environment.include?(@data) && !command.start_with?("runsv") }.map(&:first)
  end

  # Of this data folder.
  def pid_of(name)
    Dir["/proc/[0-9]*"].filter_map { |path|
      begin
        path[/\d+/].to_i if File.read("#{path}/cmdline").include?(name) && File.read("#{path}/environ").include?(@data)
      rescue SystemCallError
        nil
      end
    }.min
  end

  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1].to_s }
  def shows = JSON.parse(Net::HTTP.get(URI("#{@address}api/shows")))
  def make(name) = Net::HTTP.post(URI("#{@address}api/shows"), JSON.generate(name: name), "content-type" => "application/json")

  it "begins without a show, keeps those that are made, and leaves neither process nor memory behind" do
    rings = Loomshuttle::Services.new(data: @data).rings
    start
    expect(Dir.children(rings)).to include("capture", "play")
    expect(shows).to include("shows" => [], "on_air" => nil)
    expect(make("Harbour night").code).to eq("200")
    stop
    expect([processes, File.exist?(rings)]).to eq([[], false])
    start
    expect(shows["shows"].map { |show| show["name"] }).to eq(["Harbour night"])
  end

  it "is not begun twice on the same data: who comes second is told where it runs, and changes nothing" do
    start
    engine = pid_of("boot/engine.rb")
    output, status = Open3.capture2e({"LOOMSHUTTLE_DATA" => @data, "LOOMSHUTTLE_HTTP_PORT" => free_port}, "bundle", "exec", "ruby", "boot/start.rb", chdir: Loomshuttle::ROOT)
    expect([status.exitstatus, output]).to match([1, include("runs on #{@data} already, at #{@address}.").and(include("kill -HUP #{pid_of("runsvdir")}\""))])
    # Its services outlive a starter that was killed.
    Process.kill("KILL", @pid)
    Process.wait(@pid)
    @pid = nil
    expect(Open3.capture2e({"LOOMSHUTTLE_DATA" => @data}, "bundle", "exec", "ruby", "boot/start.rb", chdir: Loomshuttle::ROOT).last.exitstatus).to eq(1)
    expect([pid_of("boot/engine.rb"), Dir.children(Loomshuttle::Services.new(data: @data).rings), shows["shows"]]).to match([engine, include("capture", "play"), []])
  ensure
    left = pid_of("runsvdir") and Process.kill("HUP", left)
    Timeout.timeout(90) { sleep 0.05 while processes.any? }
  end
end
