# frozen_string_literal: true

require "fileutils"
require "json"
require "securerandom"
require_relative "kept_file"

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

    # Puts others in the place of a file that is lost or cannot be read, which is kept. By the one program that starts all
    # others, before it does.
    #
    # @return [Boolean] whether they are others now
    def mend
      return false if usable?

      if File.exist?(@path)
        warn "#{@path} cannot be read; it is kept as #{@path}.unusable, and other words are made."
        File.rename(@path, "#{@path}.unusable")
      end
      @all = nil
      make
      true
    end

    private

    def all
      @all ||= begin
        make unless File.exist?(@path)
        JSON.parse(File.read(@path))
      end
    end

    def usable? = KeptFile.read(@path)&.values_at(*@names)&.all? { |word| word.is_a?(String) && word.match?(/\A\h{48}\z/) } || false

    # Whole or not at all, and first come first served where two programs begin at once.
    def make
      own = "#{@path}.draft-#{Process.pid}"
      KeptFile.write(own, JSON.generate(@names.to_h { |role| [role, SecureRandom.hex(24)] }))
      File.link(own, @path)
    rescue Errno::EEXIST
      nil
    ensure
      FileUtils.rm_f(own)
    end
  end
end
