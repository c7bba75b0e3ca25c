# frozen_string_literal: true

require "date"

module Loomshuttle
  module Edits
    # What the show is called, where and when it takes place; what is left out stays. Venue and date may
    # be empty; a date is written as ISO 8601 has it, "2026-11-28".
    SetAbout = Edit.of("about", name: [:text, :kept], venue: [:text, :kept], date: [:text, :kept]) do
      def apply(show)
        given = {name: name, venue: venue, date: date}.reject { |_, text| text == :kept }.transform_values { |text| text.to_s.strip }
        given.each { |field, text| (refusal = refusal(field, text)) && (return refusal) }
        show.with(**given.transform_values(&:freeze))
      end

      private

      def refusal(field, text)
        return (refuse_date(text) unless text.empty? || day?(text)) if field == :date

        refuse(field, text) if text.size > Capture::Row::NAME_LENGTH_MAX || text.match?(/[[:cntrl:]]/) || (field == :name && text.empty?)
      end

      def day?(text) = text.match?(/\A\d{4}-\d\d-\d\d\z/) && Date.valid_date?(*text.split("-").map(&:to_i))

      def refuse_date(text)
        Refusal.new(field: "date", value: text, allowed: "a day such as 2026-11-28, or nothing", why: "\"#{text}\" is no day of the calendar; write it as 2026-11-28, or leave it empty.")
      end

      def refuse(field, text)
        least = (field == :name) ? 1 : 0
        Refusal.new(field: field.to_s, value: text, allowed: "#{least} to #{Capture::Row::NAME_LENGTH_MAX} characters, no control characters",
          why: "The #{(field == :name) ? "show's name" : "venue"} has #{least} to #{Capture::Row::NAME_LENGTH_MAX} characters and no control characters.")
      end
    end
  end
end
