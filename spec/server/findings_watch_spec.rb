# frozen_string_literal: true

require "spec_helper"
require_relative "../../boot/server"

# Found "not looked at yet" for good in a list of shows: a show that was edited while it was looked at was counted the
# next time, and nobody was told since what was found was the same.
RSpec.describe Loomshuttle::Server::FindingsWatch do
  let(:kept) { Struct.new(:version) }
  let(:workspace) do
    Struct.new(:id, :kept, :found) { def findings(_) = found }.new(3, kept.new(1), [])
  end
  let(:noted) { [] }
  let(:told) { Queue.new }
  let(:shelf) do
    log = noted
    Class.new { define_method(:note_findings) { |id, version, _| log << [id, version] } and define_method(:uncounted) { |_| [] } }.new
  end
  let(:workspaces) { Struct.new(:open).new([workspace]) }
  let(:watch) { described_class.new(workspaces, shelf) { |id, news| told << [id, news[:version]] } }

  def look = watch.tap(&:nudge).send(:turn)

  it "tells of another version also where the same is found in it" do
    look
    workspace.kept = kept.new(2)
    look
    workspace.kept, workspace.found = kept.new(3), []
    look
    expect(noted).to eq([[3, 1], [3, 2], [3, 3]])
    expect(Array.new(told.size) { told.pop }).to eq(noted)
  end

  it "tells nothing while nothing changed, and writes nothing" do
    look
    2.times { look }
    expect([noted.size, told.size]).to eq([1, 1])
  end

  it "tells nothing where only the facts were looked at anew, with the same result" do
    look
    workspace.found = [].dup
    look
    expect([noted.size, told.size]).to eq([2, 1])
  end
end
