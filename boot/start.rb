# frozen_string_literal: true

# Runs everything on one's own data and prints the address. Ends with Ctrl+C or SIGTERM.
require_relative "supervised"

data = ENV.fetch("LOOMSHUTTLE_DATA") { File.join(Dir.home, "loomshuttle") }
wanted = {"http" => 4600, "door" => 4643}.merge(Loomshuttle::Services::PORTS.to_h { |name| [name, ENV["LOOMSHUTTLE_#{name.upcase}_PORT"]&.to_i] }.compact)
Loomshuttle::Supervised.new(data: data, ports: wanted).run
