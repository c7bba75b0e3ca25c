# frozen_string_literal: true

require "openapi_first"
require "rack"
require "yaml"

# Holds every good answer that a spec gets against api/openapi.yaml: the pages believe what it says.
module OfContract
  PATH = File.expand_path("../../api/openapi.yaml", __dir__)

  module_function

  # @param answer [Net::HTTPResponse]
  def check(method, path, answer)
    return unless answer.is_a?(Net::HTTPOK) && answer["content-type"].to_s.start_with?("application/json")

    request = Rack::Request.new(Rack::MockRequest.env_for(path, method: method.upcase))
    response = Rack::Response.new(answer.body, answer.code.to_i, {"content-type" => "application/json"})
    fault = definition.validate_response(request, response).error
    raise "#{method} #{path} is not answered as the contract says: #{fault.message.to_s[0, 600]}" if fault
  end

  def definition
    @definition ||= OpenapiFirst.parse(OpenapiFirst::JsonRefs::Dereferencer.new(PATH, File.dirname(PATH), document, {}).call)
  end

  # An edit may be one of very many; the core checks those.
  def document
    YAML.safe_load_file(PATH).tap do |document|
      schemas = document.dig("components", "schemas")
      schemas.delete_if { |name, _| name.start_with?("Edit") && name != "Edit" && name != "Edited" }
      schemas["Edit"] = {"type" => "object", "required" => ["kind"]}
    end
  end
end
