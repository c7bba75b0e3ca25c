# frozen_string_literal: true

require_relative "../boot/server"

context = Loomshuttle::Server.context
use Loomshuttle::Server::Contract, File.join(Loomshuttle::ROOT, "api/openapi.yaml")
run Loomshuttle::Server::App.new(context)
