# frozen_string_literal: true

module Loomshuttle
  module Server
    module Store
      # The edits of a show: who made them, in which browser, when, what they touched. Each
      # browser undoes its own, newest first; an edit on whose ground somebody else has built
      # since stays until that is undone.
      class History
        # Who edits, in which browser, and what that calls this one edit.
        Author = Value.of(who: "", client: "", request: nil)

        SHOWN = 50
        private_constant :SHOWN

        def initialize(database)
          @database = database
        end

        # Called inside Shows#change. Forgets what this browser had undone.
        #
        # What undo and redo put back is derived once, from what changed.
        #
        # @param version [Integer] that the edit leads to
        # @param before, after [Show]
        def remember(show_id, author, version, label, edit, before, after)
          of_client(show_id, author).where(undone: true).delete
          @database[:edits].insert(show_id: show_id,
            version: version,
            label: label,
            edit: Sequel.pg_jsonb(edit.to_data),
            inverse: Sequel.pg_jsonb(Edits::Put.between(after, before).to_data),
            redo: Sequel.pg_jsonb(Edits::Put.between(before, after).to_data),
            who: author.who,
            client: author.client,
            request: author.request,
            touched: Sequel.pg_array(Show::Parts.touched(before, after), :text))
        end

        # Whether this very edit is kept already: its answer may have been lost, and it was sent again.
        def kept?(show_id, author) = !author.request.nil? && @database[:edits].where(show_id: show_id, request: author.request).any?

        # What somebody did that no undo takes back: it stands in the history and changes nothing.
        def note(show_id, author, version, label)
          nothing = Sequel.pg_jsonb(Edits::Group.new(edits: []).to_data)
          @database[:edits].insert(show_id: show_id, version: version, label: label, edit: nothing, inverse: nothing, who: author.who, client: author.client, act: true)
        end

        # @return [Hash, nil] {id:, version:, label:, redo:, inverse:, touched:} newest of this browser
        #   that is done
        def last_done(show_id, author) = entry(of_client(show_id, author).where(undone: false).reverse(:id))

        # @return [Hash, nil] oldest of those that this browser undid
        def last_undone(show_id, author) = entry(of_client(show_id, author).where(undone: true).order(:id))

        def label_done(show_id, author) = of_client(show_id, author).where(undone: false).reverse(:id).get(:label)
        def label_undone(show_id, author) = of_client(show_id, author).where(undone: true).order(:id).get(:label)

        # Undoing and redoing lead to a version of their own.
        def mark(entry_id, undone, version) = @database[:edits].where(id: entry_id).update(undone: undone, version: version)

        # What others did behind a version, newest first.
        #
        # @return [Array<Hash>] {label:, who:, undone:}
        def since(show_id, author, version) = behind(show_id, author, version).limit(OVERTAKEN_MAX).select(:label, :who, :undone).all

        OVERTAKEN_MAX = 3
        private_constant :OVERTAKEN_MAX

        # What others changed behind a version where this change changes something too, newest first.
        #
        # @param before, after [Show]
        # @return [Array<Hash>] {label:, who:, undone:}
        def met(show_id, author, version, before, after)
          same = behind(show_id, author, version).where(on(Show::Parts.touched(before, after))).all
          return [] if same.empty?

          mine = Edits::Meeting.places(Edits::Put.between(after, before), Edits::Put.between(before, after))
          same.select { |row| Edits::Meeting.any?(mine, Edits::Meeting.places(decode(row[:inverse]), decode(row[:redo] || row[:edit]))) }
            .first(OVERTAKEN_MAX).map { |row| row.slice(:label, :who, :undone) }
        end

        # An edit that was undone or done again since counts from then.
        #
        # @return [Hash, nil] the newest edit of another browser since, on the same places
        def built_on(show_id, author, entry)
          behind(show_id, author, entry[:version]).where(undone: false).where(on(entry[:touched])).select(:label, :who, :made_at).first
        end

        # @return [Array<Hash>] newest first
        def list(show_id, author, from: 0, limit: SHOWN)
          all = @database[:edits].where(show_id: show_id).reverse(:id).limit(limit, from)
          all.select(:id, :label, :who, :client, :made_at, :undone).map do |row|
            {id: row[:id],
             label: row[:label],
             who: row[:who],
             mine: row[:client] == author.client,
             at: row[:made_at].utc.iso8601,
             undone: row[:undone]}
          end
        end

        private

        def behind(show_id, author, version) = of_others(show_id, author).where { |edit| edit.version > version }.reverse(:version)
        def on(touched) = Sequel.pg_array_op(:touched).overlaps(Sequel.pg_array(touched, :text))
        def of_others(show_id, author) = @database[:edits].where(show_id: show_id).exclude(client: author.client)
        def of_client(show_id, author) = @database[:edits].where(show_id: show_id, client: author.client, act: false)

        def entry(dataset)
          row = dataset.first
          row && {id: row[:id], version: row[:version], label: row[:label], redo: decode(row[:redo] || row[:edit]), inverse: decode(row[:inverse]), touched: row[:touched].to_a}
        end

        # As it may have been written by version 1.
        def decode(json) = Edits.from_h(Exchange::Version1.edit(JSON.parse(JSON.generate(json))))
      end
    end
  end
end
