# frozen_string_literal: true

require "fileutils"
require "json"

module Loomshuttle
  # Small files that the next start needs: whole or not at all, also over a power cut.
  module KeptFile
    module_function

    # @param path [String] its folder is made if it is not there
    def write(path, text, mode: 0o600)
      FileUtils.mkdir_p(File.dirname(path), mode: 0o700)
      draft = "#{path}.#{Process.pid}"
      File.open(draft, File::WRONLY | File::CREAT | File::TRUNC, mode) do |file|
        file.write(text)
        file.fsync
      end
      File.rename(draft, path)
    end

    # @return [Hash, nil] nil for what is not there, or is no such file (any more)
    def read(path)
      data = JSON.parse(File.read(path))
      data if data.is_a?(Hash)
    rescue SystemCallError, JSON::ParserError
      nil
    end
  end
end
