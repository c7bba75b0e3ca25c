# frozen_string_literal: true

require "securerandom"
require_relative "../../demo/lanterns"

# Shows that are not the demo, for specs that put parts together: one made as somebody makes it who follows the guided
# steps, and the demo's own with ids that are random text.
module ShowsByOthers
  # What no id may be taken apart at, and what every part in between must keep.
  SIGNS = [*"a".."z", *"A".."Z", *"0".."9", "/", "/", "#", "?", "%2F", "%", "&", "+", " ", ".", "..", "'", "\"", "<b>",
    "\\", ";", ":", ",", "=", "ü", "日"].freeze

  module_function

  # Follows the guide to its end, taking the first offer each time; of input lists the one that leaves return lanes.
  #
  # @param api [#call] as Installation#api
  # @return [Integer] the show's id
  def guided(api, name: "Made by hand")
    id = api.call("post", "/api/shows", {name: name, venue: "", date: ""}).last.fetch("id")
    while (step = api.call("get", "/api/shows/#{id}/guide").last["next"])
      version = api.call("get", "/api/shows/#{id}").last["version"]
      offer = step["offers"][(step["key"] == "rows") ? 1 : 0]
      status, answer = api.call("post", "/api/shows/#{id}/edits", {version: version, edit: offer["edit"]})
      raise "#{step["key"]}: #{answer}" unless status == 200
    end
    id
  end

  # @param seed [Integer]
  # @return [Hash] a show file: the demo without its planted mistakes, every id another text
  def random_text(seed)
    random = Random.new(seed)
    data = JSON.parse(JSON.generate(Loomshuttle::Demo.mended.merge(name: "Ids of random text")))
    devices = data["devices"].to_h { |device| [device["id"], slug(random)] }
    rows = data["rows"].to_h { |row| [row["id"], "list/row/#{slug(random)}_#{slug(random)[0, 4].upcase}"] }
    renamed(data, devices, rows).tap do |made|
      made["tracks"].each { |track| track["id"] = text(random) }
      made["songs"].each { |song| song["id"] = slug(random) }
    end
  end

  # Ids of devices and rows are parts of other keys and values too.
  def renamed(part, devices, rows)
    case part
    when Array then part.map { |one| renamed(one, devices, rows) }
    when Hash then part.to_h { |key, value| [word(key, devices, rows), renamed(value, devices, rows)] }
    when String then word(part, devices, rows)
    else part
    end
  end

  def word(text, devices, rows)
    rows.fetch(text) do
      head, tail = text.split("/", 2)
      (devices.key?(text) || tail) ? [devices.fetch(head, head), tail].compact.join("/") : text
    end
  end

  def slug(random) = Array.new(random.rand(3..12)) { [*"a".."z", *"0".."9"].sample(random: random) }.join

  def text(random)
    Array.new(random.rand(4..20)) {
      SIGNS.sample(random: random)
    }.join.strip.then { |made| "#{made}#{slug(random)}"[0, 80] }
  end
  private_class_method :renamed, :word, :slug, :text
end
