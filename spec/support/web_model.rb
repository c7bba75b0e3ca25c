# frozen_string_literal: true

require "json"
require "open3"
require "tmpdir"

# Runs the pure TypeScript of web/src/model under Node: bundled once by the bundler that Vite
# uses, then asked by calls that go in and come out as JSON.
#
#   WebModel.call("sheet", "parseClipboard", "a\tb")   # => [["a", "b"]]
module WebModel
  WEB = File.expand_path("../../web", __dir__)
  MODULES = %w[grid sheet fieldTable sendTable patchFaces runs taps loom rig format tempo levels].freeze

  module_function

  def call(file, name, *arguments) = evaluate(file, "module.#{name}(...given)", arguments)

  # @param script [String] JavaScript over `module` (the model) and `given` (the arguments);
  #   maps and sets come back as lists
  def evaluate(file, script, given = [])
    code = <<~JS
      import * as module from #{JSON.generate(File.join(folder, "#{file}.js"))};
      const given = #{JSON.generate(given)};
      const plain = (key, value) => value instanceof Map || value instanceof Set ? [...value] : value;
      process.stdout.write(JSON.stringify({answer: #{script}}, plain));
    JS
    out, error, status = Open3.capture3("node", "--input-type=module", "-e", code)
    raise error unless status.success?

    JSON.parse(out)["answer"]
  end

  def folder
    @folder ||= Dir.mktmpdir("web-model").tap do |made|
      at_exit { FileUtils.rm_rf(made) }
      inputs = MODULES.map { |name| File.join(WEB, "src/model/#{name}.ts") }
      out, status = Open3.capture2e("npx", "rolldown", *inputs, "--dir", made, "--format", "esm", chdir: WEB)
      raise out unless status.success?
    end
  end
end
