# frozen_string_literal: true

require "tempfile"
require_relative "../../boot/cli"

# A command of the command line in a fork of this process, with an output, errors and an exit code of its own.
module ForkedCommand
  module_function

  # @return [Array(String, String, Integer)] standard output, standard error, exit code
  def run(&command)
    out, errors = Tempfile.new("out"), Tempfile.new("errors")
    pid = fork { go(out, errors, &command) }
    _, status = Process.wait2(pid)
    [out, errors].map { |file| File.read(file.path) } << status.exitstatus
  ensure
    [out, errors].each(&:close!)
  end

  # Without what RSpec does when its process ends.
  def go(out, errors)
    $stdout.reopen(out.path, "w")
    $stderr.reopen(errors.path, "w")
    yield
    code = 0
  rescue SystemExit => e
    code = e.status
  rescue Exception => e # rubocop:disable Lint/RescueException -- as Ruby itself, which ends with 1 whatever it is
    warn e.full_message(highlight: false)
    code = 1
  ensure
    [$stdout, $stderr].each(&:flush)
    exit!(code || 1)
  end
  private_class_method :go
end
