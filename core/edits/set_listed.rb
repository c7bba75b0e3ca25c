# frozen_string_literal: true

module Loomshuttle
  module Edits
    # What holds for a song on one evening (Show::Listed); what is left out stays, and null is as usual.
    SetListed = Edit.of("listed", song: :id, arrangement: [:text, :kept], after: [:id, :kept], wait_s: [:whole, :kept], talk_s: [:whole, :kept], break_s: [:whole, :kept],
      percent: [:whole, :kept], trim_db: [:number, :kept], key: [:text, :kept], note: [:text, :kept]) do
      def apply(show)
        listed = show.set_list[song] or return Refusal.new(field: "song", value: song, allowed: "a song of the set list", why: "The song #{song} is not in the set list.")

        given = to_h.except(:song).reject { |_, value| value == :kept }.to_h { |field, value| [field, value.nil? ? Show::Listed::USUAL[field] : value.freeze] }
        given.each { |field, value| (allowed = wanted(show, field, value)) && (return refuse(show, field, value, allowed)) }
        show.with(set_list: show.set_list.merge(song => listed.with(**given)).freeze)
      end

      private

      # @return [String, nil] what is allowed instead; nil for what is good
      def wanted(show, field, value)
        case field
        when :arrangement then one_of(show.library[song]&.arrangements.to_a.map { |one| one["name"] }, value) if value
        when :percent then one_of(show.library[song]&.tempi.to_h.keys.map(&:to_i), value) if value
        when :after then one_of(Show::Listed::AFTER, value)
        when :wait_s then within(Show::Listed::WAIT_S, "s", value)
        when :talk_s, :break_s then within(Show::Listed::PAUSE_S, "s", value)
        when :trim_db then within(Show::Listed::TRIM_DB, "dB", value)
        else "a line of up to #{Show::Listed::TEXT_LENGTH_MAX} characters" if value.size > Show::Listed::TEXT_LENGTH_MAX || value.match?(/[[:cntrl:]]/)
        end
      end

      def one_of(names, value) = ((names.empty? ? "none: the song has none" : names.join(", ")) unless names.include?(value))
      def within(range, unit, value) = ("#{range.min} to #{range.max} #{unit}" unless range.cover?(value))

      def refuse(show, field, value, allowed)
        title = show.library[song]&.title || song
        Refusal.new(field: field.to_s, value: value, allowed: allowed, why: "In the set list \"#{value}\" cannot be the #{field.to_s.delete_suffix("_s").delete_suffix("_db").tr("_", " ")} of #{title}: #{allowed}.")
      end
    end
  end
end
