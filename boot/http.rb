# frozen_string_literal: true

# Starts the server's part: the API and the pages. Environment: LOOMSHUTTLE_HTTP_PORT and what boot/server.rb reads.
require_relative "server"
require "puma/cli"

Puma::CLI.new(["-C", File.join(__dir__, "puma.rb"), File.join(Loomshuttle::ROOT, "server/config.ru")]).run if $PROGRAM_NAME == __FILE__
