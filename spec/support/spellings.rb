# frozen_string_literal: true

# Crooked spellings of a path: what some program, somewhere, takes for the same path. Written without the
# product's own rule (boot/spelling.rb), so that each tries the other.
module Spellings
  NAMED = {
    "two slashes before it" => ->(path) { "/#{path}" },
    "two slashes within it" => ->(path) { path.sub(%r{(?<=.)/}, "//") },
    "two slashes at its last segment" => ->(path) { path.sub(%r{/(?=[^/]*\z)}, "//") },
    "a slash behind it" => ->(path) { "#{path}/" },
    "a dot segment before it" => ->(path) { "/.#{path}" },
    "a dot segment within it" => ->(path) { path.sub(%r{(?<=.)/|\z}, "/./") },
    "a dot segment behind it" => ->(path) { "#{path}/." },
    "a way up and down again" => ->(path) { "/x/..#{path}" },
    "a way up from the root" => ->(path) { "/..#{path}" },
    "an encoded dot segment" => ->(path) { "/%2e#{path}" },
    "an encoded way up" => ->(path) { "/x/%2E%2e#{path}" },
    "an encoded first letter" => ->(path) { path.sub(/[a-z]/) { |sign| format("%%%02x", sign.ord) } },
    "an encoded last sign" => ->(path) { path.sub(/.\z/) { |sign| format("%%%02X", sign.ord) } },
    "every sign encoded" => ->(path) { path.gsub(%r{[^/]}) { |sign| format("%%%02x", sign.ord) } },
    "an encoded first slash" => ->(path) { path.sub("/", "%2f") },
    "an encoded last slash" => ->(path) { path.sub(%r{/(?=[^/]*\z)}, "%2F") },
    "a slash and an encoded one" => ->(path) { "/%2f#{path[1..]}" },
    "a backslash before it" => ->(path) { path.sub("/", "\\") },
    "a backslash within it" => ->(path) { path.sub(%r{/(?=[^/]*\z)}, "\\\\") },
    "an encoded backslash" => ->(path) { path.sub(%r{/(?=[^/]*\z)}, "%5c") },
    "a parameter of its last segment" => ->(path) { "#{path};x=1" },
    "a parameter of its first segment" => ->(path) { path.sub(%r{(?<=[a-z])(?=/|\z)}, ";x") },
    "an overlong dot" => ->(path) { "/%C0%AE#{path}" },
    "the sign NUL behind it" => ->(path) { "#{path}%00" },
    "a line's end behind it" => ->(path) { "#{path}%0d%0a" },
    "a fragment behind it" => ->(path) { "#{path}#x" },
    "another machine's absolute form" => ->(path) { "http://127.0.0.1#{path}" },
    "an absolute form of TLS" => ->(path) { "https://localhost:1#{path}" },
    "a sign as it is that must be encoded" => ->(path) { "#{path}@" }
  }.freeze

  # What is done to a single sign or between two.
  MUTATIONS = [->(sign) { format("%%%02x", sign.ord) }, ->(sign) { format("%%%02X", sign.ord) },
    ->(sign) { "#{sign}/" }, ->(sign) { "#{sign}./" }, ->(sign) { "#{sign};" }, ->(sign) { "\\#{sign}" },
    ->(sign) { "#{sign}%2e%2E/" }, ->(sign) { "/..#{sign}" }, ->(sign) { "%2F#{sign}" }, ->(sign) { "#{sign}%00" },
    ->(sign) { sign.swapcase }, ->(sign) { format("%%25%02x", sign.ord) }].freeze

  module_function

  # @return [Array<Array(String, String)>] method and path of every operation of the contract; whatever it names is 1
  def operations
    contract = YAML.safe_load_file(File.expand_path("../../api/openapi.yaml", __dir__))
    contract["paths"].flat_map do |path, all|
      all.except("parameters").keys.map { |method| [method.upcase, path.gsub(/\{\w+\}/, "1")] }
    end
  end

  # @return [Hash{String => String}] by what is odd about them
  def of(path) = NAMED.transform_values { |odd| odd.call(path) }.reject { |_, spelt| spelt == path }

  # @return [String] the path with one to four of its signs written another way
  def random(path, random)
    random.rand(1..4).times.inject(path) do |now, _|
      at = random.rand(now.size)
      now[0...at] + MUTATIONS.sample(random: random).call(now[at]) + now[(at + 1)..]
    end
  end

  # The same question as the product's, answered in another way: a path that is written as the browser would write
  # what it means.
  def plain?(path)
    meant = path.split("/", -1).map { |segment| CGI.unescapeURIComponent(segment) }
    return path == "/" if meant == ["", ""]
    return false unless meant.shift == "" && meant.all? { |segment| name?(segment) }

    "/#{meant.map { |segment| written(segment) }.join("/")}" == path
  rescue ArgumentError
    false
  end

  def name?(segment)
    segment.valid_encoding? && !["", ".", ".."].include?(segment) && !segment.match?(%r{[/\\\x00-\x1f\x7f]})
  end

  # As JavaScript's encodeURIComponent does.
  def written(text) = ERB::Util.url_encode(text).gsub(/%(?:21|27|28|29|2A)/) { |code| code[1..].hex.chr }
end
