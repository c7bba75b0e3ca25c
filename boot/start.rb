# frozen_string_literal: true

# Runs everything on one's own data, with an empty show where there is none yet, and prints the address.
# Ends with Ctrl+C or SIGTERM.
require_relative "supervised"

data = ENV.fetch("LOOMSHUTTLE_DATA") { File.join(Dir.home, "loomshuttle") }
wanted = {"http" => 4600}.merge(Loomshuttle::Services::PORTS.to_h { |name| [name, ENV["LOOMSHUTTLE_#{name.upcase}_PORT"]&.to_i] }.compact)
Loomshuttle::Supervised.new(data: data, ports: wanted).run do |services|
  system(services.environment, "bundle", "exec", "ruby", "boot/first_show.rb", chdir: Loomshuttle::Services::ROOT, exception: true)
end
