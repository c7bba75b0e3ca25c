# frozen_string_literal: true

module Loomshuttle
  # The one spelling of a path. Programs read a crooked path in different ways: one merges slashes, one decodes
  # letters, one turns backslashes. So a path that is not written in the one spelling is refused before anything
  # reads it. nginx (boot/nginx.conf.erb) and the server (`Server::Door`) ask by the same pattern.
  #
  #   Spelling.plain?("/api/shows/1")      # => true
  #   Spelling.plain?("//api/%73hows/1/")  # => false
  #   Spelling.of("//api/%73hows/1/")      # => "/api/shows/1"
  #
  # The spelling is that of JavaScript's encodeURIComponent (ECMA-262, section 19.2.6) for each segment: letters,
  # digits and -_.!~*'() stand as they are, all else as %XX of UTF-8 in upper case.
  module Spelling
    # Signs that stand as they are.
    PLAIN = "A-Za-z0-9._~!*'()-"
    # Signs of a file's name that must be encoded. A slash, a backslash, a control character and what is plain are not
    # among them, so that no path has two spellings and no name is more than one segment.
    ENCODED = "%(?:2[02-6BC]|3[A-F]|40|5[BDE]|60|7[BCD]|[89A-F][0-9A-F])"
    # One segment is never "." or "..".
    SEGMENT = "(?![.]{1,2}(?:[/? ]|$))(?:[#{PLAIN}]|#{ENCODED})+".freeze
    private_constant :PLAIN, :ENCODED, :SEGMENT

    # A path, as a pattern that Ruby and nginx (PCRE) read alike; without anchors.
    PATH = "/(?:#{SEGMENT}(?:/#{SEGMENT})*)?".freeze
    WHOLE = /\A#{PATH}\z/
    private_constant :WHOLE

    module_function

    # @param path [String] as it came, not decoded
    # @return [Boolean]
    def plain?(path) = path.ascii_only? && path.match?(WHOLE) && decode(path).valid_encoding?

    # @param path [String] any
    # @return [String] the one spelling of what it most likely means
    def of(path)
      without_host = path.b.sub(%r{\A[a-zA-Z][a-zA-Z0-9+.-]*://[^/]*}, "")
      segments = decode(without_host).scrub("").delete("\0").tr("\\", "/").split("/")
      tidy = segments.each_with_object([]) do |segment, kept|
        next kept.pop if segment == ".."

        kept << encode(segment) unless ["", "."].include?(segment)
      end
      "/#{tidy.join("/")}"
    end

    # @return [String] one segment of a path
    def encode(text) = text.gsub(/[^#{PLAIN}]/) { |sign| sign.bytes.map { |byte| format("%%%02X", byte) }.join }

    def decode(path) = path.b.gsub(/%(\h\h)/) { Regexp.last_match(1).hex.chr }.force_encoding(Encoding::UTF_8)
    private_class_method :decode
  end
end
