# frozen_string_literal: true

require "support/installation"

# A server and a worker over a database of their own, and a folder that stands for somebody's disk.
RSpec.shared_context "with a worker" do
  before(:all) do
    @folder = Dir.mktmpdir("loomshuttle")
    @sources = Dir.mktmpdir("loomshuttle-stick")
    @installation = Installation.new(@folder).start("server", environment: {"LOOMSHUTTLE_SOURCES" => @sources}).start("worker")
  end

  after(:all) do
    @installation.stop
    FileUtils.rm_rf([@folder, @sources])
  end

  def api(method, path, body = nil, headers = {}) = @installation.api(method, path, body, headers)
  def task(id) = api("get", "/api/tasks/#{id}").last

  # @return [Hash] the task when it is over
  def ended(id)
    @installation.wait("task #{id}") { task(id).then { |one| one if %w[done failed stopped].include?(one["state"]) } }
  end
end
