# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # Looks at the files of a folder of this machine.
      class ImportLook < Job
        def work(args)
          import = parts.imports.get(args["import"])
          files = import ? parts.imports.files(import[:id]) : []
          landing = Actions::Landing.new(imports: parts.imports, tasks: tasks, folders: nil, data_folder: parts.data_folder)
          each_file(files) { |file| landing.look(import, file) }
          finish {}
        end
      end
    end
  end
end
