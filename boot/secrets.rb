# frozen_string_literal: true

require "fileutils"
require "json"
require "securerandom"

module Loomshuttle
  # Words that programs of one installation know of each other, made when somebody first asks and kept in a
  # file that nobody else may read.
  #
  #   Secrets.of("/srv/show").own   # => what the server's ordinary role says to the database
  class Secrets
    # Passwords of the private database.
    def self.of(data) = new(File.join(data, "run/database.json"), %w[admin own])

    # What the front door and the server say to each other, and with what codes are digested.
    def self.door(data) = new(File.join(data, "run/door.json"), %w[word key])

    # @param path [String] its folder is made if it is not there
    # @param names [Array<String>]
    def initialize(path, names)
      @path, @names = path, names
    end

    # @return [String] of the role that looks after the database
    def admin = all.fetch("admin")

    # @return [String] of the role that the server works as
    def own = all.fetch("own")

    # @return [String] by which nginx is known
    def word = all.fetch("word")

    # @return [String] for digests of codes
    def key = all.fetch("key")

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
      File.write(draft, JSON.generate(@names.to_h { |role| [role, SecureRandom.hex(24)] }), perm: 0o600)
      File.link(draft, @path)
    rescue Errno::EEXIST
      nil
    ensure
      FileUtils.rm_f(draft)
    end
  end
end
