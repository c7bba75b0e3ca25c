# frozen_string_literal: true

require "core_helper"
require "json"
require "open3"

# The pure part of the pages is specified on typed arguments, in web/spec: `npx vitest` in web/ runs it alone.
RSpec.describe "The pure part of the pages" do
  it "does what web/spec says of it" do
    web = File.join(Loomshuttle::ROOT, "web")
    out, errors, = Open3.capture3("npx", "--no-install", "vitest", "run", "--reporter=json", chdir: web)
    said = JSON.parse(out[out.index("{")..])
    failed = said["testResults"].flat_map { |file| file["assertionResults"] }.reject { |one| one["status"] == "passed" }
    expect(failed.map { |one| [one["fullName"], one["failureMessages"]] }).to eq([]), errors
    expect(said.values_at("success", "numTotalTests")).to match([true, be > 0])
  end
end
