# frozen_string_literal: true

require "fileutils"
require "json"
require "socket"

module Loomshuttle
  # The processes of one installation: their ports, environment and commands. Shared by
  # the demo's supervisor, the specs and the bench, so that all run the very same thing.
  class Services
    ROOT = File.expand_path("..", __dir__)
    PORTS = %w[http audio osc engine postgres].freeze

    attr_reader :data, :ports

    # @param data [String] the data folder; everything is written below it
    # @param ports [Hash{String => Integer}] wanted ports; the others are free ones
    def initialize(data:, ports: {})
      @data = data
      FileUtils.mkdir_p(%w[run takes songs import].map { |folder| File.join(data, folder) })
      @ports = PORTS.to_h { |name| [name, ports[name] || free_port] }
    end

    def database_url = "postgres://loomshuttle@127.0.0.1:#{ports["postgres"]}/loomshuttle"

    # @return [Hash{String => String}] environment of every process
    def environment
      {"LOOMSHUTTLE_DATA" => data, "DATABASE_URL" => database_url, "RACK_ENV" => "production", "OPENBLAS_NUM_THREADS" => "1",
       **ports.to_h { |name, port| ["LOOMSHUTTLE_#{name.upcase}_PORT", port.to_s] }}
    end

    # @return [Hash{String => Array<String>}] command line of each process
    def commands
      {"standin" => ["bundle", "exec", "ruby", "boot/standin.rb"], "engine" => ["bundle", "exec", "ruby", "boot/engine.rb"],
       "server" => ["bundle", "exec", "puma", "-C", "boot/puma.rb", "server/config.ru"]}
    end

    private

    def free_port
      server = TCPServer.new("127.0.0.1", 0)
      server.addr[1]
    ensure
      server&.close
    end
  end
end
