# frozen_string_literal: true

source "https://rubygems.org"

ruby ">= 3.1"

# core
# openapi_first 1.4 parses through multi_json, which json 3 has left behind.
gem "json", "~> 2.10"
gem "json_schemer", "~> 2.5"
gem "numo-linalg", "~> 0.1.7"
gem "numo-narray", "~> 0.9.2"
# From 0.5 on it pulls in numo-narray-alt beside numo-narray.
gem "numo-pocketfft", "~> 0.4.1"
gem "zeitwerk", "~> 2.6.18"

# file systems and, through the same ffi, ALSA
gem "ffi", "~> 1.17"
gem "sys-filesystem", "~> 1.6"
# input lists and sheets in and out
gem "csv", "~> 3.2"
gem "prawn", "~> 2.5"
gem "prawn-table", "~> 0.2.2"

# recordings that are sent as one archive; selenium-webdriver wants no newer one
gem "rubyzip", "~> 2.4"

# tells whether a file changed, as fast as it is read
gem "digest-xxhash", "~> 0.2.9"
# tempo maps as Standard MIDI Files
gem "midilib", "~> 4.0"

# server
gem "puma", "~> 8.0"
# jobs of the worker, in the same database
gem "que", "~> 2.4"
gem "parallel", "~> 1.27"
# the guide, docs/guide.md, as a page
gem "kramdown", "~> 2.5"
gem "rqrcode", "~> 3.1"
gem "rackup", "~> 2.3"
# whoever guesses codes is slowed down, then locked out
gem "rack-attack", "~> 6.8"
gem "openapi_first", "~> 1.4.3"
gem "pg", "~> 1.5"
gem "sequel", "~> 5.110"
gem "sinatra", "~> 4.2"

# desk control (OSC 1.0) and command line
gem "osc-ruby", "~> 1.1.5"
gem "thor", "~> 1.5"
# keeps what Ruby made of the libraries' text, so that a small question is answered at once
gem "bootsnap", "~> 1.18", require: false

group :test do
  gem "axe-core-rspec", "~> 4.10"
  gem "capybara", "~> 3.40"
  gem "rack-test", "~> 2.2"
  gem "rspec", "~> 3.13"
  # The last that runs on Ruby 3.1; without the pin Bundler falls back to 4.1.
  gem "selenium-webdriver", "~> 4.32.0"
  gem "simplecov", "~> 0.22", require: false
  gem "standard", "~> 1.50", require: false
  gem "wavefile", "~> 1.1.2"
end
