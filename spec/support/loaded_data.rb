# frozen_string_literal: true

require "fileutils"
require "tmpdir"
require_relative "../../boot/services"
require_relative "throw_away_database"

# The data of an installation on which the demo show was loaded: made once a run by the very commands of the product, copied
# for each spec that needs one. Making it takes seconds, copying it a moment.
module LoadedData
  module_function

  # @param folder [String] of an installation that has no database yet
  def copy_into(folder)
    return load(folder) unless copied?

    FileUtils.rm_rf(File.join(folder, "run")) if Dir.empty?(File.join(folder, "run"))
    system("cp", "-a", *Dir.children(whole).map { |name| File.join(whole, name) }, folder, exception: true)
  end

  # Where the database's user cannot get through to a folder of the run, its database lies elsewhere and is made anew.
  def copied? = File.directory?(File.join(whole, "postgres"))

  def whole
    @whole ||= Dir.mktmpdir("loomshuttle-loaded").tap do |folder|
      owner = Process.pid
      at_exit { FileUtils.rm_rf(folder) if Process.pid == owner }
      load(folder)
    end
  end

  def load(folder)
    services = Loomshuttle::Services.new(data: folder)
    database = ThrowAwayDatabase.new(folder, port: services.ports["postgres"]).start
    system(services.environment, "bundle", "exec", "ruby", "demo/load.rb", chdir: Loomshuttle::Services::ROOT, exception: true)
    database.stop
  end
end
