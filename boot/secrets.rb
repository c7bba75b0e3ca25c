# frozen_string_literal: true

require "fileutils"
require "json"
require "securerandom"

module Loomshuttle
  # Passwords of the private database, made when somebody first asks and kept in a file that nobody else
  # may read.
  #
  #   Secrets.of("/srv/show").own   # => what the server's ordinary role says
  class Secrets
    def self.of(data) = new(File.join(data, "run/database.json"))

    # @param path [String] its folder is made if it is not there
    def initialize(path)
      @path = path
    end

    # @return [String] of the role that looks after the database
    def admin = all.fetch("admin")

    # @return [String] of the role that the server works as
    def own = all.fetch("own")

    private

    def all
      @all ||= begin
        make unless File.exist?(@path)
        JSON.parse(File.read(@path))
      end
    end

    # Whole or not at all, and first come first served where two programs begin at once.
    def make
      FileUtils.mkdir_p(File.dirname(@path), mode: 0o700)
      draft = "#{@path}.#{Process.pid}"
      File.write(draft, JSON.generate(%w[admin own].to_h { |role| [role, SecureRandom.hex(24)] }), perm: 0o600)
      File.link(draft, @path)
    rescue Errno::EEXIST
      nil
    ensure
      FileUtils.rm_f(draft)
    end
  end
end
