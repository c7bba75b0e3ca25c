# frozen_string_literal: true

# Loopback only: production's default would be every interface.
bind "tcp://127.0.0.1:#{Integer(ENV.fetch("LOOMSHUTTLE_HTTP_PORT"))}"
threads 2, 8
workers 0
environment "production"
# Far more than anything that comes in one request (Import::PART_BYTES_MAX), refused before anything is kept.
http_content_length_limit 32 * 1024**2
