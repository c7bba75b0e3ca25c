# frozen_string_literal: true

module Loomshuttle
  module Server
    module Api
      # The patch sheets: as data for the screen, as PDF, as CSV.
      module Paper
        def self.registered(app)
          app.get("#{SHOW}/paper") do
            json heading: Exchange::Sheets.heading(show), sheets: sheets.map { |sheet| sheet.merge(file: Exchange::Sheets.file_name(sheet)) }
          end

          app.get "#{SHOW}/paper.pdf" do
            pdf = Loomshuttle::Paper::Pdf.new(show,
              date: clock.call.strftime("%Y-%m-%d %H:%M"),
              size: params["size"] || "A4",
              check: linechecks.of(workspace.id).state,
              keys: params["sheets"]&.split(",") || Exchange::Sheets::KEYS).render
            content_type "application/pdf"
            headers "content-disposition" => "inline; filename=\"#{Loomshuttle::Capture::FileName.folder(show.name)}.pdf\""
            pdf
          end

          app.get "#{SHOW}/paper/:file" do
            sheet = sheets.find { |one| Exchange::Sheets.file_name(one) == params["file"] }
            raise BadInput.new(field: "sheet", value: params["file"], allowed: "a sheet of this show") unless sheet

            content_type "text/csv", charset: "utf-8"
            attachment params["file"]
            Exchange::Sheets.csv(sheet)
          end
          app.helpers Helpers
        end

        # What only these routes need.
        module Helpers
          # With what the line check found.
          def sheets = Exchange::Sheets.of(show, check: linechecks.of(workspace.id).state)
        end
      end
    end
  end
end
