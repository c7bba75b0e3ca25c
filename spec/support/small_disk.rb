# frozen_string_literal: true

require "shellwords"

# A file system of a few megabytes in memory: a disk that really fills up, and that can really be
# made read-only.
#
#   disk = SmallDisk.new(folder, megabytes: 6)
#   disk.fill; disk.read_only; disk.remove
class SmallDisk
  attr_reader :folder

  # Who may not mount cannot make one; the spec then says so instead of passing.
  def self.possible? = Process.uid.zero? || system("sudo", "-n", "true", err: File::NULL)

  def initialize(folder, megabytes:)
    @folder = folder
    FileUtils.mkdir_p(folder)
    as_root("mount", "-t", "tmpfs", "-o", "size=#{megabytes}m,mode=0777", "tmpfs", folder)
  end

  # To the last byte, or but for so many.
  def fill(leave: 0)
    File.open(File.join(folder, "filler"), "ab") do |file|
      file.syswrite("\0" * 4096) while Loomshuttle::Runtime::Disk.free_bytes(folder) >= leave
    end
  rescue Errno::ENOSPC
    nil
  end

  def make_room = FileUtils.rm_f(File.join(folder, "filler"))
  def read_only = as_root("mount", "-o", "remount,ro", folder)
  def writable = as_root("mount", "-o", "remount,rw", folder)
  # Also while somebody still has a file open in it.
  def remove = as_root("umount", "-l", folder)

  private

  def as_root(*command) = system(*(Process.uid.zero? ? [] : ["sudo", "-n"]), *command, exception: true)
end
