# frozen_string_literal: true

require "set"
require "yaml"

# A second reading of a show, to hold the product's own against: from the show file and the profiles as
# they stand on disk, by the words of the design's signal model, with nothing of the product in it. It walks
# every question from scratch and is as slow as it likes.
#
#   model = PlainModel.new(JSON.parse(File.read("demo/lanterns.loom.json")))
#   model.carries("rec/track/1")   # => "list/row/1"
class PlainModel
  PROFILES = Dir[File.join(__dir__, "../../core/rig/profiles/*.yml")].to_h { |path| YAML.safe_load_file(path).then { |data| [data["name"], data] } }.freeze
  CLOCK_FAMILIES = {44_100 => 48, 48_000 => 48, 88_200 => 96, 96_000 => 96}.freeze

  # @param file [Hash] a show file as parsed
  def initialize(file)
    @file = file
    @patch = file.fetch("patch")
    @devices = file.fetch("devices").to_h { |device| [device["id"], device] }
    @profiles = PROFILES.merge(file.fetch("profiles", []).to_h { |profile| [profile["name"], profile] })
    @rows = file.fetch("rows", []).sort_by { |row| row["number"] }.to_h { |row| [row["id"], row] }
    @joins = all_joins
    @into = @joins.group_by { |join| join[1] }
    @out = @joins.group_by { |join| join[0] }
  end

  attr_reader :joins

  # @return [Array<String>] every place that a patch can name
  def places
    @places ||= @devices.flat_map { |id, device| profile(device)["families"].flat_map { |family| (1..family["count"]).map { |number| "#{id}/#{family["name"]}/#{number}" } } }
  end

  def channels = of_kind("channel")
  def kind_of_mix?(id) = %w[bus main matrix].include?(kind(id))
  def listeners = @devices.values.select { |device| profile(device)["kind"] == "listener" }.map { |device| device["id"] }

  # All joins that a signal from here runs along. What is recorded goes no further while it is.
  #
  # @return [Set<Array(String, String)>]
  def onward(id) = walk(id, @out, 1) { |place| place != id && kind(place) == "track" }

  # All joins by which anything may come here.
  def backward(id) = walk(id, @into, 0) { false }

  # @return [Set<String>] listeners that it reaches; one hears what is at its own place
  def heard_by(id) = [id, *onward(id).map(&:last)].to_set { |place| place.split("/").first } & listeners

  # What sounds at a place: a row, a role, a mix that something is sent to, what is on disk at a track, or nil.
  def carries(id)
    now = id
    passed = []
    loop do
      return nil if passed.include?(now)

      passed << now
      sends, lines = Array(@into[now]).partition { |join| join[2] == :send }
      return (sends.any? { |from, _| from != now }) ? now : nil if lines.empty?

      now = nearest(lines)
      return now if @rows.key?(now) || now.start_with?("songs/") || kind(now) == "track"
    end
  end

  # What a channel listens to.
  #
  # @return [Symbol] :stage, :recorder, :playback, :nothing
  def feed(channel)
    sound = carries(channel)
    return :recorder if sound && kind(sound) == "track"
    return :playback if sound&.start_with?("songs/")
    return :stage if @rows.key?(sound)

    beginning = beginning(channel)
    (beginning == channel || from_a_player?(beginning)) ? :nothing : :stage
  end

  # The source that a channel is meant for, through the recorder too.
  def row_of(channel)
    sound = carries(channel)
    return sound if @rows.key?(sound)

    sound && tracks.find { |track| track["place"] == sound }&.fetch("row", nil)
  end

  # @return [Hash{String => String}] channels whose own track comes back to their desk
  def returning
    channels.filter_map do |channel|
      row = row_of(channel)
      lane = row && tracks.select { |track| track["row"] == row }.lazy.filter_map { |track| lane_back(track["place"], channel.split("/").first) }.first
      [channel, lane] if lane
    end.to_h
  end

  private

  def tracks = @file.fetch("tracks", []).sort_by { |track| order(track["place"]) }
  def order(place) = place.split("/").then { |device, _, number| [@devices.keys.index(device) || 0, number.to_i] }
  def profile(device) = @profiles.fetch(device["profile"])
  def device_of(id) = @devices[id.split("/").first]
  def family(id) = device_of(id)&.then { |device| profile(device)["families"].find { |family| family["name"] == id.split("/")[1] } }
  def kind(id) = family(id)&.fetch("kind")
  def of_kind(kind) = places.select { |id| kind(id) == kind }
  def there?(id) = (known = family(id)) && id.split("/").last.to_i.between?(1, known["count"])

  def all_joins
    fixed = @devices.values.flat_map { |device| wires(device) } + @file.fetch("cables", []).flat_map { |cable| lanes(cable) }
    fixed = fixed.select { |from, to, _| there?(from) && there?(to) }
    plugs = @patch.fetch("plugs", {}).map { |row, socket| [row, socket, :plug] }
    sends = @patch.fetch("sends", {}).flat_map { |from, mixes| mixes.keys.map { |mix| [from, mix, :send] } }
    fixed + plugs + taken + sends
  end

  def wires(device)
    profile(device).fetch("wires", []).flat_map do |wire|
      skipped = wire["skip"] ? setting(device, wire["skip"]) : 0
      (1..wire["count"]).map { |number| ["#{device["id"]}/#{wire["from"]}/#{number + skipped}", "#{device["id"]}/#{wire["to"]}/#{number + wire.fetch("shift", 0)}", :wire] }
    end
  end

  def setting(device, name) = device.fetch("settings", {}).fetch(name) { profile(device)["settings"].find { |one| one["name"] == name }["default"] }

  def lanes(cable)
    a, b = %w[a b].map { |side| cable[side].split("/").then { |id, name| [@devices.fetch(id), profile(@devices.fetch(id))["ports"].find { |port| port["name"] == name }] } }
    count = [carried(*a), carried(*b), cable["lanes"]].compact.min
    one_way(a, b, count, cable.fetch("offset_a_to_b", 0)) + one_way(b, a, count, cable.fetch("offset_b_to_a", 0))
  end

  def carried(device, port)
    modes = port["modes"] || {"all" => port["lanes"]}
    mode = device.fetch("modes", {}).fetch(port["name"], modes.keys.first)
    modes.fetch(mode).transform_keys(&:to_i).fetch(CLOCK_FAMILIES.fetch(@file.fetch("sample_rate_hz")), 0)
  end

  def one_way((sender, out), (receiver, into), count, offset)
    return [] unless out["lanes_out"] && into["lanes_in"]

    (1..count).map { |lane| ["#{sender["id"]}/#{out["lanes_out"]}/#{lane}", "#{receiver["id"]}/#{into["lanes_in"]}/#{lane + offset}", :cable] }
  end

  # Slots and what they take; a channel that is switched over listens to its second slot.
  def taken
    switched = @patch.fetch("turned", []).flat_map { |id| id.include?("/") ? [id] : of_kind("channel").select { |channel| channel.start_with?("#{id}/") } }
    seconds = switched.map { |channel| [channel.sub("/channel/", "/#{profile(device_of(channel))["second"]}/"), channel, :patch] }
    laid = slots.except(*switched).filter_map do |slot, pick|
      from = (pick["tap"] == "raw" && kind(pick["from"]) == "channel") ? preamp(pick["from"]) : pick["from"]
      [from, slot, :patch] if from
    end
    laid + seconds
  end

  def slots = @patch.fetch("slots", {})

  # A raw tap is only ever the socket: where the channel's one set took a lane that comes back, it is nothing.
  def preamp(channel)
    socket = slots.dig(channel, "from")
    socket unless socket&.include?("/card-return/")
  end

  # Of several joins into one place the plug counts, of several plugs the first of the list.
  def nearest(lines)
    plugged = lines.select { |_, _, join| join == :plug }.map(&:first)
    plugged.min_by { |row| @rows.fetch(row)["number"] } || lines.first.first
  end

  def beginning(id)
    now = id
    passed = []
    until passed.include?(now)
      passed << now
      lines = Array(@into[now]).reject { |join| join[2] == :send }
      return now if lines.empty?

      now = nearest(lines)
    end
    now
  end

  def from_a_player?(id)
    known = family(id) or return false
    data = profile(device_of(id))
    %w[computer player].include?(data["kind"]) || known["name"] == data["second"] || known["name"] == "card-return"
  end

  # Where a track comes back to a desk: by the first lane out that takes it and leads there.
  def lane_back(track, desk)
    out = slots.select { |slot, pick| slot.include?("/lane-out/") && pick["from"] == track }.keys.sort_by { |slot| slot.split("/").then { |device, _, number| [device, number.to_i] } }
    out.lazy.filter_map { |slot| fixed_from(slot).find { |place| place.start_with?("#{desk}/") } }.first
  end

  def fixed_from(id)
    found = [id]
    found.each { |place| Array(@out[place]).each { |_, to, join| found << to if %i[wire cable].include?(join) && !found.include?(to) } }
    found.drop(1)
  end

  def walk(id, joins, far)
    seen = Set[id]
    queue = [id]
    found = Set.new
    while (place = queue.shift)
      next if yield(place)

      Array(joins[place]).each do |join|
        found << join.first(2)
        queue << join[far] if seen.add?(join[far])
      end
    end
    found
  end
end
