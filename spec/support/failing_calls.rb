# frozen_string_literal: true

# Has the kernel refuse some of a running process's calls, as a dying disk does: strace's fault
require "tempfile"

# injection, for as long as the block runs.
#
#   FailingCalls.of(pid, "fdatasync", error: "EIO", paths: [file]) { wait_until_it_is_told }
module FailingCalls
  module_function

  # @param calls [String] names of calls, separated by commas
  # @param paths [Array<String>] only calls on these files; all files where it is empty
  def of(pid, calls, error:, paths: [])
    log = Tempfile.new("strace")
    strace = spawn("strace", "-f", "-p", pid.to_s, "-e", "trace=#{calls}", "-e", "inject=#{calls}:error=#{error}", *paths.flat_map { |path| ["-P", path] }, :out => File::NULL, %i[err] => log.path)
    Timeout.timeout(30) { sleep 0.01 until File.read(log.path).include?("attached") }
    yield
  ensure
    Process.kill("INT", strace)
    Process.wait(strace)
    log.close!
  end
end
