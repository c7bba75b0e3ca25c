# frozen_string_literal: true

require_relative "../boot/server"

use Loomshuttle::Server::Contract, File.join(Loomshuttle::ROOT, "api/openapi.yaml")
run Loomshuttle::Server::Assembly.app
