# frozen_string_literal: true

require "digest"
require "fileutils"
require "json"
require "securerandom"
require "socket"
require_relative "cluster"
require_relative "secrets"

module Loomshuttle
  # The processes of one installation: their ports, environment and commands. Shared by
  # the demo's supervisor, the specs and the bench, so that all run the very same thing.
  class Services
    ROOT = File.expand_path("..", __dir__)
    PORTS = %w[http osc postgres door].freeze

    # What nobody else on this machine has to look into.
    PRIVATE = %w[run takes songs import].freeze
    private_constant :PRIVATE

    attr_reader :data, :ports

    # @param data [String] the data folder; everything is written below it
    # @param ports [Hash{String => Integer}] wanted ports; the others are free ones
    def initialize(data:, ports: {})
      @data = File.expand_path(data)
      FileUtils.mkdir_p(@data)
      # Root's database runs as the user postgres, who must get through to its own folder.
      File.chmod(Process.uid.zero? ? 0o711 : 0o700, @data) if File.owned?(@data)
      PRIVATE.each { |folder| FileUtils.mkdir_p(File.join(data, folder)) && File.chmod(0o700, File.join(data, folder)) }
      @ports = PORTS.to_h { |name| [name, ports[name] || free_port] }
    end

    def database_url = "postgres://#{Cluster::OWN}:#{Secrets.of(data).own}@127.0.0.1:#{ports["postgres"]}/loomshuttle"

    # Memory that engine and deck share; gone with the machine's power, as it may be.
    def rings = File.join(File.directory?("/dev/shm") ? "/dev/shm" : File.join(data, "run"), "loomshuttle-#{Process.uid}-#{Digest::SHA256.hexdigest(data)[0, 12]}")

    def engine_socket = File.join(data, "run/engine.sock")
    def deck_socket = File.join(data, "run/deck.sock")
    # The simulated desk's card.
    def card_socket = File.join(data, "run/card.sock")

    # Blocks of sound are large and live for milliseconds: the allocator is told to keep their
    # memory instead of giving it back to the system each time. What is larger than any block is given back.
    MALLOC = {"MALLOC_MMAP_THRESHOLD_" => "2000000", "MALLOC_TRIM_THRESHOLD_" => "16000000", "MALLOC_ARENA_MAX" => "2"}.freeze
    private_constant :MALLOC

    # What the deck decodes is garbage a second later: it is collected before it is much, and lies in one place.
    DECK_MEMORY = ["RUBY_GC_OLDMALLOC_LIMIT_MAX=64000000", "MALLOC_ARENA_MAX=1"].freeze
    private_constant :DECK_MEMORY

    # @return [Hash{String => String}] environment of every process
    def environment
      {"LOOMSHUTTLE_DATA" => data, "DATABASE_URL" => database_url, "RACK_ENV" => "production", "OPENBLAS_NUM_THREADS" => "1",
       "LOOMSHUTTLE_RINGS" => rings, "LOOMSHUTTLE_CARD" => card_socket, **MALLOC,
       **ports.to_h { |name, port| ["LOOMSHUTTLE_#{name.upcase}_PORT", port.to_s] }}
    end

    # @return [Hash{String => Array<String>}] command line of each process
    def commands
      {"standin" => ruby("standin"), "engine" => [*real_time, *ruby("engine")], "deck" => ["env", *DECK_MEMORY, *ruby("deck")], "ear" => ["nice", "-n", "5", *ruby("earshot")],
       "server" => ruby("http"),
       "door" => ruby("front_door"), "worker" => ["nice", "-n", "10", *ruby("worker")]}
    end

    private

    # As `bundle exec ruby` does, without a second start of the interpreter.
    def ruby(name) = ["ruby", "-rbundler/setup", "-r./boot/quick", "boot/#{name}.rb"]

    # Before everything that is not for real time, where whoever starts it may ask for that
    # (docs/real-device.md says how): a machine that does much else must not keep blocks waiting.
    def real_time
      @real_time ||= system("chrt", "--rr", REAL_TIME, "true", out: File::NULL, err: File::NULL) ? ["chrt", "--rr", REAL_TIME] : []
    end

    # Under the kernel's own threads, over all that is not for real time.
    REAL_TIME = "20"
    private_constant :REAL_TIME

    # Below the ports that the kernel hands to whoever calls out: one of those could be taken by
    # any connection of this machine between now and the moment when the process listens. Whoever runs several
    # installations side by side gives each a part of them.
    LISTENED_AT = ENV.fetch("LOOMSHUTTLE_FREE_PORTS", "20000-32000").split("-").then { |from, to| from.to_i..to.to_i }
    private_constant :LISTENED_AT

    # Free for TCP and UDP: which of them its process will speak is not asked here.
    def free_port
      loop do
        port = SecureRandom.random_number(LISTENED_AT)
        return port if free?(port)
      end
    end

    def free?(port)
      TCPServer.open("127.0.0.1", port) { UDPSocket.open.tap { |socket| socket.bind("127.0.0.1", port) }.close }
      true
    rescue Errno::EADDRINUSE
      false
    end
  end
end
