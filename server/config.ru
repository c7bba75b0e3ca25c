# frozen_string_literal: true

require_relative "../boot/server"

run Loomshuttle::Server::Assembly.app
