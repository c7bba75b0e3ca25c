# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # What went wrong and stays said until somebody has seen it.
      class Alarms
        # Alarms of an evening; older ones that were seen are not listed.
        LISTED = 100
        private_constant :LISTED

        def initialize(database, changes = Changes.new(database))
          @database, @changes, @alarms = database, changes, database[:alarms]
        end

        # The same thing again adds nothing; other words about it replace those of before.
        #
        # @param key [String] what it is about
        # @return [Boolean] whether anything is new
        def raise_alarm(key, about:, words:, at:)
          told do
            @alarms.insert_conflict(target: :key, update: {words: words}, update_where: Sequel.~(Sequel[:alarms][:words] => words))
              .returning(:key).insert(key: key, about: about, words: words, happened_at: at).any?
          end
        end

        # @return [Array<Hash>] unseen ones first, newest first
        def list
          @alarms.order(Sequel.case({{seen_at: nil} => 0}, 1), Sequel.desc(:made_at)).limit(LISTED)
            .select_map(%i[key about words happened_at seen_by seen_at]).map do |key, about, words, at, seen_by, seen_at|
            {key: key, about: about, words: words, happened_at: at, seen_by: seen_by, seen_at: seen_at&.iso8601}
          end
        end

        # @return [Boolean]
        def see(key, who, at) = told { @alarms.where(key: key, seen_at: nil).update(seen_by: who, seen_at: at) > 0 }

        private

        def told = @database.transaction { yield.tap { |new| @changes.say("alarms") if new } }
      end
    end
  end
end
