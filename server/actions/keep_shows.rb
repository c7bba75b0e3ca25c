# frozen_string_literal: true

require "fileutils"
require "securerandom"

module Loomshuttle
  module Server
    module Actions
      # Makes shows: from nothing, a template, a show file or another show; and puts them away, back, or
      # deletes them for good. Nothing here ever replaces a show.
      class KeepShows
        # Folders that are being deleted; the keeper of takes does not look into it.
        GONE = ".gone"

        # @param shows [Store::Shows]
        # @param shelf [Store::Shelf]
        # @param templates [Store::Templates]
        # @param takes [Store::Takes]
        # @param on_air [Store::OnAir]
        # @param codec [Exchange::ShowFile]
        # @param takes_folder [String]
        def initialize(shows:, shelf:, templates:, takes:, on_air:, codec:, takes_folder:)
          @shows, @shelf, @templates, @takes, @on_air, @codec, @takes_folder = shows, shelf, templates, takes, on_air, codec, takes_folder
        end

        # @param about [Hash] name, and perhaps venue and date, as Edits::SetAbout takes them
        # @param template, copy [Integer, nil] where it begins
        # @return [Integer, Refusal] id
        def make(about, template: nil, copy: nil)
          named = Loomshuttle::Edits::SetAbout.new(**about).apply(beginning(template, copy, about))
          named.is_a?(Refusal) ? named : @shows.create(named)
        end

        # @param text [String] a show file's
        # @return [Integer] id
        # @raise [BadInput]
        def read(text) = @shows.create(@codec.parse(text))

        # @param place [String] one of Store::Shelf::PLACES
        # @raise [BadInput] for the show on air
        def put(id, place)
          @shelf.find(id)
          refuse_on_air(id) unless place == "at_hand"
          @shelf.put(id, place)
        end

        # For good, with its takes.
        #
        # @param name [String] the show's, as a sign that somebody means this one
        # @raise [BadInput]
        def delete(id, name)
          show = @shelf.find(id)
          raise BadInput.new(field: "place", value: show[:place], allowed: "a show in the bin; put it there first") unless show[:place] == "bin"
          raise BadInput.new(field: "name", value: name, allowed: "\"#{show[:name]}\", the name of the show that is deleted") unless name == show[:name]

          @shelf.doom(id)
          let_go(id)
        end

        # Deletes what has been in the bin for its time and holds no takes, and goes on where a deletion was
        # broken off.
        def sweep
          @shelf.outlived.each { |id| @shelf.doom(id) }
          @shelf.doomed.each { |id| let_go(id) }
          FileUtils.rm_rf(File.join(@takes_folder, GONE))
        end

        private

        def beginning(template, copy, about)
          return @shows.load(copy).show if copy

          return @templates.find(template) if template

          @codec.build({"version" => Exchange::ShowFile::VERSION, "name" => about[:name].to_s, "sample_rate_hz" => 48_000, "devices" => [], "patch" => {}})
        end

        # The rows go last: as long as they are there, somebody goes on with it.
        def let_go(id)
          @takes.folders(id).each { |folder| put_aside(folder) }
          FileUtils.rm_rf(File.join(@takes_folder, GONE))
          @shelf.delete(id)
        end

        # Out of sight at once, so that nobody takes half of a take for a whole one.
        def put_aside(folder)
          from = Runtime::Inside.path(@takes_folder, folder)
          return unless File.directory?(from)

          target = File.join(@takes_folder, GONE, SecureRandom.hex(8))
          FileUtils.mkdir_p(File.dirname(target), mode: 0o700)
          File.rename(from, target)
          Dir.rmdir(File.dirname(from)) if Dir.empty?(File.dirname(from))
        end

        def refuse_on_air(id)
          return unless @on_air.on_air?(id)

          raise BadInput.new(field: "show", value: @shelf.find(id)[:name], allowed: "a show that is not on air; put another on air first, or take this one off")
        end
      end
    end
  end
end
