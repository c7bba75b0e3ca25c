# frozen_string_literal: true

require "json"
require "open3"
require "tmpdir"

# Runs pure TypeScript of web/src/model under Node, on data that the core or the server made: bundled once by the bundler
# that Vite uses, then asked by calls that go in and come out as JSON.
#
#   WebModel.call("fieldTable", "textOf", table, 8, "takes")   # => "Box A socket 9"
module WebModel
  WEB = File.expand_path("../../web", __dir__)
  MODULES = %w[sheet fieldTable sendTable runs loom rig levels liveState].freeze

  module_function

  def call(file, name, *arguments) = evaluate(file, "module.#{name}(...given)", arguments)

  # One Node for all calls: it reads a question a line, and answers on a line.
  ASKED = <<~JS
    import readline from "node:readline";
    const plain = (key, value) => value instanceof Map || value instanceof Set ? [...value] : value;
    for await (const line of readline.createInterface({input: process.stdin})) {
      const {path, script, given} = JSON.parse(line);
      try {
        const answer = await new Function("module", "given", `return ${script}`)(await import(path), given);
        console.log(JSON.stringify({answer}, plain));
      } catch (error) {
        console.log(JSON.stringify({error: String(error.stack ?? error)}));
      }
    }
  JS

  # @param script [String] JavaScript over `module` (the model) and `given` (the arguments), which may promise;
  #   maps and sets come back as lists
  def evaluate(file, script, given = [])
    node.puts JSON.generate(path: File.join(folder, "#{file}.js"), script: script, given: given)
    said = JSON.parse(node.gets)
    raise said["error"] if said["error"]

    said["answer"]
  end

  def node
    @node ||= IO.popen(["node", "--input-type=module", "-e", ASKED], "r+").tap { |io| at_exit { io.close } }
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
