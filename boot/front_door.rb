# frozen_string_literal: true

# The only listener on the venue's network: Debian's nginx, which runs while others are let in and not otherwise.
# Environment: LOOMSHUTTLE_DATA, LOOMSHUTTLE_HTTP_PORT (the server's), LOOMSHUTTLE_DOOR_PORT.
require "erb"
require "json"
require_relative "authority"
require_relative "enterable"
require_relative "kept_file"
require_relative "secrets"
require_relative "spelling"

module Loomshuttle
  # Opens and closes as a file in the data folder says: the server writes it when somebody lets others in.
  #
  #   FrontDoor.new(data: "/srv/show", server_port: 4600, port: 4643).run
  class FrontDoor
    TEMPLATE = File.join(__dir__, "nginx.conf.erb")
    LOOK_S = 0.3
    # nginx that ended is started again after so long.
    AGAIN_S = 1
    # nginx that cannot listen gives up after less.
    SETTLED_S = 5
    private_constant :TEMPLATE, :LOOK_S, :AGAIN_S, :SETTLED_S

    # What is written there: addresses at which it listens; without the file it is closed.
    def self.wish(data) = File.join(data, "run/door-open.json")

    # Where the keeper writes why nobody gets in though the door is to be open; no file where nothing is wrong.
    def self.trouble(data) = File.join(data, "run/door-trouble.txt")

    def initialize(data:, server_port:, port:)
      @data, @server_port, @port = data, server_port, port
    end

    # Until it is ended.
    def run
      end_left_over
      FileUtils.rm_f(FrontDoor.trouble(@data))
      trap("TERM") { exit }
      at_exit { close }
      loop do
        look
        sleep LOOK_S
      end
    end

    # @return [String] path of nginx's configuration, written for these addresses
    def write(addresses)
      folder = File.join(@data, "door")
      FileUtils.mkdir_p(folder)
      File.chmod(0o700, folder)
      authority = Authority.new(folder)
      certificate, key = authority.certify(addresses)
      paths = {folder: folder, passing: passing, certificate: certificate, key: key}
      values = paths.transform_values { |path| quoted(path) }
      values = values.merge(server_port: @server_port, port: @port, addresses: addresses)
      values = values.merge(spelling: Spelling::PATH, word: Secrets.door(@data).word)
      path = File.join(folder, "nginx.conf")
      File.open(path, File::WRONLY | File::CREAT | File::TRUNC, 0o600) { |file| file.write(ERB.new(File.read(TEMPLATE)).result_with_hash(values)) }
      path
    end

    private

    # Between the quotation marks of nginx's configuration.
    def quoted(path) = path.gsub(/["\\]/) { |sign| "\\#{sign}" }

    # Where nginx keeps what slow clients send and fetch. It makes the folders in it, each its workers' own.
    def passing
      File.join(Enterable.for_nginx(@data).folder, "passing").tap do |folder|
        FileUtils.mkdir_p(folder)
        File.chmod(0o711, folder)
      end
    end

    # What outlived its keeper, or its master, would go on letting in, and keep its port from the next.
    def end_left_over
      group = Integer(File.read(File.join(@data, "door/nginx.pid")))
      end_group(group)
    rescue SystemCallError, ArgumentError
      nil
    end

    # nginx leads a group of its own, and its number may be somebody else's by now.
    def end_group(group)
      Process.kill("TERM", -group) if alive?(group)
      sleep 0.05 while alive?(group)
    end

    def alive?(group)
      Dir["/proc/[0-9]*/stat"].any? do |path|
        name, rest = File.read(path).match(/\((.*)\) \S \d+ (\d+)/)&.captures
        name == "nginx" && rest.to_i == group
      rescue SystemCallError
        false
      end
    end

    def wanted
      JSON.parse(File.read(FrontDoor.wish(@data))).fetch("addresses")
    rescue SystemCallError, JSON::ParserError, KeyError
      nil
    end

    def look
      now = wanted
      close if @open && now != @open
      let_in(now) if now && @open.nil?
      ended if @open && Process.wait(@nginx, Process::WNOHANG)
      trouble(Enterable.for_nginx(@data).fault) if @open && now_s > @settled_s
    end

    def let_in(addresses)
      @settled_s = now_s + SETTLED_S
      @nginx = spawn("nginx", "-p", File.join(@data, "door"), "-c", write(addresses), pgroup: true)
      @open = addresses
    end

    def ended
      log = File.join(@data, "run/door.log")
      trouble("The front door cannot stay open: nginx ends at once. What it says stands in #{log}.")
      warn "nginx ended; it is started again"
      end_group(@nginx)
      @nginx = @open = nil
      sleep AGAIN_S
    end

    def now_s = Process.clock_gettime(Process::CLOCK_MONOTONIC)

    # @param words [String, nil] nil where nothing is wrong
    def trouble(words)
      return if words == @trouble

      @trouble = words
      words ? KeptFile.write(FrontDoor.trouble(@data), words) : FileUtils.rm_f(FrontDoor.trouble(@data))
    end

    # At once: what is on its way is broken off, for nobody is let in any more.
    def close
      trouble(nil)
      Process.kill("TERM", @nginx) && Process.wait(@nginx) if @nginx
    rescue SystemCallError
      nil
    ensure
      @nginx = @open = nil
    end
  end
end

if $PROGRAM_NAME == __FILE__
  $stdout.sync = true
  Loomshuttle::FrontDoor.new(data: File.expand_path(ENV.fetch("LOOMSHUTTLE_DATA")), server_port: Integer(ENV.fetch("LOOMSHUTTLE_HTTP_PORT")),
    port: Integer(ENV.fetch("LOOMSHUTTLE_DOOR_PORT"))).run
end
