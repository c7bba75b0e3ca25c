# frozen_string_literal: true

require "kramdown"

module Loomshuttle
  module Server
    # docs/guide.md as a page of its own: an evening step by step, for whoever has never seen it. Pages of the
    # application lead to it at their own step, so each step of the guide has an anchor of that name.
    module GuidePage
      FILE = File.join(ROOT, "docs/guide.md")
      # As sober as paper, in the colours of the system's own choice, readable on a phone.
      STYLE = <<~CSS
        :root { color-scheme: dark light; --paper: #1b1a1d; --ink: #ece6da; --line: #3a373f; --link: #d9a441 }
        @media (prefers-color-scheme: light) { :root { --paper: #f3eee3; --ink: #2a2620; --line: #d3cab8; --link: #7d5a08 } }
        body { background: var(--paper); color: var(--ink); font: 17px/1.55 sans-serif; max-width: 46rem; margin: 0 auto; padding: 1rem 1.25rem 4rem }
        h1, h2 { line-height: 1.25 } h2 { border-top: 1px solid var(--line); padding-top: 1.5rem; margin-top: 2.5rem }
        img { max-width: 100%; height: auto; border: 1px solid var(--line); border-radius: 6px } img[src*="phone"] { max-width: 300px }
        a { color: var(--link) } li { margin: .3rem 0 } :target { scroll-margin-top: 1rem }
      CSS
      private_constant :FILE, :STYLE

      module_function

      # @return [String] HTML; pictures are asked for under /guide/
      def html
        @made ||= begin
          text = File.read(FILE, encoding: "UTF-8").gsub("](screenshots/", "](/guide/")
          <<~HTML
            <!doctype html>
            <html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
            <title>Loomshuttle: an evening in ten steps</title><style>#{STYLE}</style></head>
            <body><main>#{Kramdown::Document.new(text, auto_ids: false).to_html}</main></body></html>
          HTML
        end
      end
    end
  end
end
