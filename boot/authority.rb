# frozen_string_literal: true

require "fileutils"
require "ipaddr"
require "openssl"
require "securerandom"
require "socket"

module Loomshuttle
  # The installation's own small certificate authority, made at first use: a venue's network has no name that a
  # public one would sign for. A device that knows its certificate knows the front door from any other.
  #
  #   authority = Authority.new("/srv/show/door")
  #   authority.certify(["192.168.1.10"])   # => paths of the door's certificate and key
  class Authority
    DAY_S = 24 * 3600
    # Browsers refuse a server's certificate that holds for longer (Baseline Requirements of the CA/Browser
    # Forum, 398 days; from memory).
    DOOR_DAYS = 397
    OWN_DAYS = 3650
    # It is made anew so long before it ends.
    LEFT_DAYS = 30
    CURVE = "prime256v1"
    private_constant :DAY_S, :DOOR_DAYS, :OWN_DAYS, :LEFT_DAYS, :CURVE

    # @param folder [String]
    def initialize(folder, clock: -> { Time.now })
      @folder, @clock = folder, clock
      FileUtils.mkdir_p(folder)
    end

    # @return [String] path of its own certificate, for devices that shall know it
    def certificate
      make_own unless File.exist?(path("authority.crt"))
      path("authority.crt")
    end

    # @param addresses [Array<String>] IPv4 addresses at which the door is met
    # @return [Array(String, String)] certificate and key of the door; what is there is kept where it will do
    def certify(addresses)
      certificate
      make_door(addresses) unless good?(addresses)
      [path("door.crt"), path("door.key")]
    end

    private

    def path(name) = File.join(@folder, name)

    def good?(addresses)
      door = OpenSSL::X509::Certificate.new(File.read(path("door.crt")))
      named = door.extensions.find { |one| one.oid == "subjectAltName" }.value
      door.not_after > @clock.call + LEFT_DAYS * DAY_S && addresses.all? { |address| named.include?("IP Address:#{address}") } && door.verify(own_key)
    rescue SystemCallError, OpenSSL::OpenSSLError
      false
    end

    def own_key = OpenSSL::PKey.read(File.read(path("authority.key")))

    def make_own
      key = OpenSSL::PKey::EC.generate(CURVE)
      name = OpenSSL::X509::Name.new([["CN", "Loomshuttle at #{Socket.gethostname}"[0, 64]]])
      certificate = blank(name, name, key, OWN_DAYS)
      extend(certificate, certificate, "basicConstraints" => ["CA:TRUE,pathlen:0", true], "keyUsage" => ["keyCertSign,cRLSign", true], "subjectKeyIdentifier" => ["hash", false])

      certificate.sign(key, "SHA256")
      keep("authority.key", key.to_pem)
      keep("authority.crt", certificate.to_pem, mode: 0o644)
    end

    def make_door(addresses)
      own = OpenSSL::X509::Certificate.new(File.read(path("authority.crt")))
      key = OpenSSL::PKey::EC.generate(CURVE)
      certificate = blank(OpenSSL::X509::Name.new([["CN", "Loomshuttle's front door"]]), own.subject, key, DOOR_DAYS)
      names = [*addresses.map { |address| "IP:#{address}" }, "DNS:localhost"].uniq.join(",")
      extend(certificate, own, "subjectAltName" => [names, false], "keyUsage" => ["digitalSignature", true], "extendedKeyUsage" => ["serverAuth", false])

      certificate.sign(own_key, "SHA256")
      keep("door.key", key.to_pem)
      keep("door.crt", certificate.to_pem, mode: 0o644)
    end

    def blank(subject, issuer, key, days)
      OpenSSL::X509::Certificate.new.tap do |one|
        one.version = 2
        one.serial = SecureRandom.random_number(2**64) + 1
        one.subject, one.issuer = subject, issuer
        one.public_key = key
        one.not_before, one.not_after = @clock.call - DAY_S, @clock.call + days * DAY_S
      end
    end

    def extend(certificate, issuer, extensions)
      factory = OpenSSL::X509::ExtensionFactory.new(issuer, certificate)
      extensions.each { |name, (value, critical)| certificate.add_extension(factory.create_extension(name, value, critical)) }
    end

    # Whole or not at all, and a key is closed to others before anything is in it.
    def keep(name, text, mode: 0o600)
      draft = path(".#{name}")
      File.open(draft, File::WRONLY | File::CREAT | File::TRUNC, mode) { |file| file.write(text) }
      File.rename(draft, path(name))
    end
  end
end
