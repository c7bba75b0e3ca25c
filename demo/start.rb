# frozen_string_literal: true

# Runs everything with the demo show in an empty database, and prints the address. Ends with Ctrl+C.
require_relative "../boot/supervised"

data = ENV.fetch("LOOMSHUTTLE_DATA", File.join(Loomshuttle::Services::ROOT, "data"))
wanted = Loomshuttle::Services::PORTS.to_h { |name| [name, ENV["LOOMSHUTTLE_#{name.upcase}_PORT"]&.to_i] }.compact
Loomshuttle::Supervised.new(data: data, ports: wanted).run do |services|
  system(services.environment, "bundle", "exec", "ruby", "demo/load.rb", "--whole", exception: true)
end
