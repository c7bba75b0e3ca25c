# frozen_string_literal: true

module Loomshuttle
  module Server
    module Actions
      # Checks a take's files against what its journal says: length, header, checksum.
      class Verify
        # @param takes [Store::Takes]
        # @param takes_folder [String]
        def initialize(takes:, takes_folder:)
          @takes, @takes_folder = takes, takes_folder
        end

        # @return [Hash] fine, files: [{file, fine, faults}], copies likewise
        # @raise [BadInput] while it runs
        def call(show_id, id)
          take = @takes.find(show_id, id)
          raise BadInput.new(field: "take", value: take[:name], allowed: "a take that is over") unless take[:state] == "closed"

          main = files_in(File.join(@takes_folder, take[:folder]), take)
          copies = take[:copy] ? files_in(take[:copy], take) : []
          {fine: (main + copies).all? { |file| file[:fine] }, files: main, copies: copies}
        end

        private

        def files_in(folder, take)
          take[:files].group_by { |file| file[:file] }.map { |name, channels| check(File.join(folder, name), channels, take) }
        end

        def check(path, channels, take)
          first = channels.first
          faults = File.open(path, "rb") do |io|
            Loomshuttle::Capture::Verification.of(io, frames: (first[:frames] if take[:origin] == "recorded"), sample_rate_hz: take[:sample_rate_hz], crc32: first[:report]["crc32"])
          end
          {file: File.basename(path), fine: faults.empty?, faults: faults}
        rescue SystemCallError, BadInput => e
          {file: File.basename(path), fine: false, faults: [e.message]}
        end
      end
    end
  end
end
