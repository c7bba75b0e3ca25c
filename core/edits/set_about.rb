# frozen_string_literal: true

module Loomshuttle
  module Edits
    # What the show is called and where it takes place; what is left out stays. A venue may be empty.
    SetAbout = Edit.of("about", name: [:text, :kept], venue: [:text, :kept]) do
      def apply(show)
        given = {name: name, venue: venue}.reject { |_, text| text == :kept }.transform_values { |text| text.to_s.strip }
        wrong = given.find { |field, text| text.size > Capture::Row::NAME_LENGTH_MAX || text.match?(/[[:cntrl:]]/) || (field == :name && text.empty?) }
        wrong ? refuse(*wrong) : show.with(**given.transform_values(&:freeze))
      end

      private

      def refuse(field, text)
        least = (field == :name) ? 1 : 0
        Refusal.new(field: field.to_s, value: text, allowed: "#{least} to #{Capture::Row::NAME_LENGTH_MAX} characters, no control characters",
          why: "The #{(field == :name) ? "show's name" : "venue"} has #{least} to #{Capture::Row::NAME_LENGTH_MAX} characters and no control characters.")
      end
    end
  end
end
