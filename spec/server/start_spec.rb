# frozen_string_literal: true

require "core_helper"
require "net/http"
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
end
