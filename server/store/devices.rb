# frozen_string_literal: true

require "digest"
require "openssl"
require "securerandom"

module Loomshuttle
  module Server
    module Store
      # Devices that were let in, and the codes that let one in.
      class Devices
        CODE_FOR_S = 300
        # Among a million codes so many may be tried while one holds; then all that hold are withdrawn.
        WRONG_MAX = 10
        TOKEN_BYTES = 32
        # The last sign of life is written down this often.
        SEEN_S = 5
        private_constant :CODE_FOR_S, :WRONG_MAX, :TOKEN_BYTES, :SEEN_S

        # @param key [String] with which codes are digested
        # @param clock [#call] => Time
        def initialize(database, changes, key:, clock: -> { Time.now })
          @database, @changes, @key, @clock = database, changes, key, clock
          @seen = {}
        end

        # @param may [String] one of Visitor::MAY
        # @return [Hash] code: six digits; ends_at
        def invite(may)
          code = format("%06d", SecureRandom.random_number(1_000_000))
          ends_at = @clock.call + CODE_FOR_S
          @database[:invitations].where { |row| row.ends_at < @clock.call }.delete
          @database[:invitations].insert(code_digest: digest(code), may: may, ends_at: ends_at)
          {code: code, ends_at: ends_at.utc.iso8601}
        end

        # @param code [String] as somebody typed it
        # @param name [String] what the device is called
        # @return [Array(String, Visitor)] its token, which is kept nowhere, and who it is
        # @raise [BadInput] for a code that holds no more or never did
        def let_in(code, name)
          token = SecureRandom.hex(TOKEN_BYTES)
          let_in = told do
            live = @database[:invitations].where(used_at: nil).where { |row| row.ends_at >= @clock.call }.for_update.all
            found = live.find { |row| OpenSSL.secure_compare(row[:code_digest], digest(code)) }
            next guessed(live) unless found

            @database[:invitations].where(id: found[:id]).update(used_at: @clock.call)
            row = {name: name, may: found[:may], token_digest: Digest::SHA256.hexdigest(token)}
            Visitor.new(name: name, may: found[:may], device: @database[:devices].insert(row))
          end
          raise BadInput.new(field: "code", value: code, allowed: "a code that is shown now: it holds for five minutes and one device") unless let_in

          [token, let_in]
        end

        # @return [Visitor, nil]
        def visitor(token)
          row = @database[:devices].where(token_digest: Digest::SHA256.hexdigest(token)).select(:id, :name, :may).first or return
          note_life(row[:id])
          Visitor.new(name: row[:name], may: row[:may], device: row[:id])
        end

        # @return [Array<Hash>] id, name, may, made_at, seen_at; newest sign of life first
        def list
          rows = @database[:devices].reverse(:seen_at).select(:id, :name, :may, :made_at, :seen_at).all
          rows.map { |row| row.merge(made_at: row[:made_at].utc.iso8601, seen_at: row[:seen_at].utc.iso8601) }
        end

        # @param given [Hash] name, may
        # @raise [BadInput]
        def change(id, given) = told { there(id, @database[:devices].where(id: id).update(given.slice(:name, :may))) }

        # From here on it is nobody; its line of events is closed.
        #
        # @raise [BadInput]
        def take_out(id) = told { there(id, @database[:devices].where(id: id).delete) }

        private

        def digest(code) = OpenSSL::HMAC.hexdigest("SHA256", @key, code)

        # Whoever guesses does not get many turns, from however many addresses he comes.
        def guessed(live)
          ids = live.map { |row| row[:id] }
          @database[:invitations].where(id: ids).update(wrong: Sequel[:wrong] + 1)
          @database[:invitations].where(id: ids).where { |row| row.wrong >= WRONG_MAX }.delete
          nil
        end

        def note_life(id)
          now = @clock.call
          return if @seen[id] && now - @seen[id] < SEEN_S

          @seen[id] = now
          @database[:devices].where(id: id).update(seen_at: now)
        end

        def there(id, count)
          raise BadInput.new(field: "device", value: id, allowed: "a device that was let in") if count.zero?

          id
        end

        # Every server process closes the lines of a device that is nobody any more, or may other things.
        def told = @database.transaction { yield.tap { |done| @changes.say("devices", id: done.is_a?(Visitor) ? done.device : done) if done } }
      end
    end
  end
end
