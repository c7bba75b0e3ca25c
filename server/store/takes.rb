# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # Takes and which file's channel belongs to which track.
      class Takes
        def initialize(database)
          @database = database
        end

        # @return [Array<Hash>] newest first, each with :files
        def of_show(show_id)
          takes = @database[:takes].where(show_id: show_id).reverse(:number).all
          files = @database[:take_files].where(take_id: takes.map { |take| take[:id] }).order(:track).all.group_by { |file| file[:take_id] }
          takes.map { |take| take.merge(files: files.fetch(take[:id], []).map { |file| file.slice(:track, :file, :channel, :name) }) }
        end

        def find(show_id, id)
          of_show(show_id).find { |take| take[:id] == id } or raise BadInput.new(field: "take", value: id, allowed: "a take of this show")
        end

        # @return [Array<Hash>] {number:, sample_rate_hz:}
        def rates(show_id) = @database[:takes].where(show_id: show_id).select(:number, :sample_rate_hz).all
        def next_number(show_id) = (@database[:takes].where(show_id: show_id).max(:number) || 0) + 1

        # @param files [Array<Hash>] {track:, file:, channel:, name:}
        # @return [Integer] id
        def create(take, files)
          @database.transaction do
            id = @database[:takes].insert(take)
            @database[:take_files].multi_insert(files.map { |file| file.merge(take_id: id) })
            id
          end
        end

        def close(id, frames:, reason:)
          @database[:takes].where(id: id).update(state: "closed", frames: frames, reason: reason)
        end

        def delete(id) = @database[:takes].where(id: id).delete
      end
    end
  end
end
