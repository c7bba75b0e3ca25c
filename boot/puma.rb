# frozen_string_literal: true

# Loopback only: production's default would be every interface.
bind "tcp://127.0.0.1:#{Integer(ENV.fetch("LOOMSHUTTLE_HTTP_PORT"))}"
threads 2, 8
workers 0
environment "production"
