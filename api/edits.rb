# frozen_string_literal: true

# Writes what edits are made of (core/edits) into the contract, between its two marks:
#
#   bundle exec ruby api/edits.rb
require_relative "../boot/core"

PATH = File.join(__dir__, "openapi.yaml")
FROM = "    # From here: written by api/edits.rb from core/edits.\n"
TO = "    # To here.\n"

lines = Loomshuttle::Edits.schemas.map { |name, schema| "    #{name}: #{JSON.generate(schema)}\n" }
text = File.read(PATH)
head, rest = text.split(FROM)
File.write(PATH, head + FROM + lines.join + TO + rest.split(TO, 2).last)
