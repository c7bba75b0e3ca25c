# frozen_string_literal: true

require "digest"
require "etc"
require "fileutils"

module Loomshuttle
  # A folder that another user may enter. What runs as root drops to that user (PostgreSQL to postgres, nginx's workers
  # to www-data), who may not get through to a data folder that lies below a private home.
  #
  #   Enterable.new("/root/show", "www-data").folder   # => "/var/tmp/loomshuttle-0-3f…"
  class Enterable
    # Where everybody may enter; it outlives a restart.
    ELSEWHERE = "/var/tmp"
    # Debian's, of nginx's workers.
    NGINX_USER = "www-data"
    private_constant :ELSEWHERE, :NGINX_USER

    # @param data [String] the data folder
    # @return [Enterable] for what slow clients send and fetch through the front door
    def self.for_nginx(data) = new(data, NGINX_USER)

    # @param data [String] the data folder, which is made if it is not there
    # @param user [String] who must get in
    def initialize(data, user)
      @data, @user = File.expand_path(data), user
    end

    # @return [String] the data folder itself where the user may enter it
    def folder = @folder ||= itself? ? @data : elsewhere(Digest::SHA256.hexdigest(@data)[0, 16])

    # @return [String] the folder of that name beside all others of this user's installations
    def elsewhere(name) = File.join(ELSEWHERE, "loomshuttle-#{Etc.getpwuid.uid}-#{name}")

    # Whether the user may enter the data folder. Where nobody drops to another user, everybody is who he is.
    def itself?
      FileUtils.mkdir_p(@data)
      !Process.uid.zero? || enters?(@data)
    end

    # @return [String, nil] what is wrong, for people; nil where the folder can be used
    def fault
      FileUtils.mkdir_p(folder)
      File.chmod(0o711, folder) if folder != @data
      return nil if !Process.uid.zero? || enters?(folder)

      "The user #{@user} may enter neither #{@data} nor #{folder}. Let everybody pass through #{ELSEWHERE} " \
        "(chmod 1777), or put the data folder below /srv."
    rescue SystemCallError => e
      "#{folder} cannot be used (#{e.message}). Put the data folder below /srv, or make #{ELSEWHERE} writable."
    end

    # setpriv becomes the program itself, so that signals reach it (runuser stays between).
    def drop = Process.uid.zero? ? ["setpriv", "--reuid=#{@user}", "--regid=#{@user}", "--init-groups", "--"] : []

    private

    def enters?(path) = system(*drop, "test", "-x", path, out: File::NULL, err: File::NULL)
  end
end
