# frozen_string_literal: true

# Loads the core (pure rules and computation) and nothing else:
#
#   require_relative "boot/core"
#   Loomshuttle::Shelf.profiles["desk-32"]  # => Loomshuttle::Rig::Profile
#
# Every other part (engine, standin, server, cli) requires this file first and then
# adds its own folder with Loomshuttle.load_part.
require "digest"
require "json"
require "set"
require "time"
# Few questions are about tables.
autoload :CSV, "csv"
require "yaml"
require "zeitwerk"
require "numo/narray"

module Loomshuttle
  ROOT = File.expand_path("..", __dir__)

  # One Zeitwerk loader a part, so that the core can be loaded without the others. Whoever runs for
  # long loads all of it before it begins; who answers one question (LAZY) loads what that needs.
  def self.load_part(folder, namespace)
    loader = Zeitwerk::Loader.new
    loader.tag = "loomshuttle-#{folder}"
    loader.push_dir(File.join(ROOT, folder), namespace: namespace)
    loader.setup
    loader.eager_load unless const_defined?(:LAZY)
    loader
  end

  load_part("core", self)

  # The shipped data files that the core needs, read from disk here because the core
  # itself knows no file paths.
  module Shelf
    module_function

    # @return [Hash{String => Rig::Profile}] shipped profiles by name
    def profiles
      @profiles ||= Dir[File.join(ROOT, "core/rig/profiles/*.yml")].sort.to_h do |path|
        profile = Rig::Profile.from_h(YAML.safe_load_file(path))
        [profile.name, profile]
      end.freeze
    end

    # @return [Exchange::ShowFile] that knows all profiles and versions
    def show_file = @show_file ||= Exchange::ShowFile.new(schemas: show_schemas, profiles: profiles)

    # @return [Hash] the contract, api/openapi.yaml
    def api = @api ||= YAML.safe_load_file(File.join(ROOT, "api/openapi.yaml"))

    # @return [Hash{Integer => Hash}] the JSON Schemas of the show file, by version
    def show_schemas
      @show_schemas ||= [1, 2].to_h { |version| [version, JSON.parse(File.read(File.join(ROOT, "docs/formats/loom-#{version}.schema.json")))] }.freeze
    end
  end
end
