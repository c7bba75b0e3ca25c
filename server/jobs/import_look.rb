# frozen_string_literal: true

module Loomshuttle
  module Server
    module Jobs
      # Looks at the files of a folder of this machine, and at what came in archives.
      class ImportLook < Job
        def work(args)
          import = parts.imports.get(args["import"])
          return finish {} unless import

          landing = Actions::Landing.new(imports: parts.imports, tasks: tasks, folders: nil, data_folder: parts.data_folder, show_file: parts.show_file)
          unseen(import).select { |file| Actions::Landing.archive?(file) }.each { |file| landing.unpack(import, file) { go_on! } }
          each_file(unseen(import)) { |file| landing.look(import, file) }
          finish {}
        end

        private

        def unseen(import) = parts.imports.files(import[:id]).reject { |file| file[:holds] || file[:fault] }
      end
    end
  end
end
