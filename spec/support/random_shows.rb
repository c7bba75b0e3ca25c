# frozen_string_literal: true

require_relative "plain_model"

# Show files made at random from the shipped profiles: one to three desks of any kind, boxes at their links
# and behind each other, computers at their cards, listeners, rows, blocks closed and opened, second sets,
# sends, roles. Valid and senseless.
#
#   RandomShows.new(7).file   # => a Hash as in a show file
class RandomShows
  DESKS = %w[desk-32 desk-32-compact desk-48 rack-16 rack-20].freeze
  BOXES = %w[stage-box-16x8 stage-box-32x16].freeze
  LISTENERS = %w[main-pa wedge in-ear-stereo livestream].freeze

  def initialize(seed)
    @random = Random.new(seed)
  end

  # @return [Hash]
  def file
    @devices, @cables = [], []
    gear
    @rows = Array.new(@random.rand(4..24)) { |i| {"id" => "list/row/r#{i + 1}", "number" => i + 1, "name" => "Source #{i + 1}"} }
    slots, opened = patched
    {"version" => 2, "name" => "Random", "sample_rate_hz" => chance(5) ? 96_000 : 48_000, "devices" => @devices, "cables" => @cables, "rows" => @rows,
     "tracks" => tracks, "roles" => [{"name" => "click", "hidden" => true}, {"name" => "tide"}],
     "patch" => {"slots" => slots, "plugs" => plugs, "sends" => sends, "opened" => opened, "turned" => turned}}
  end

  private

  def pick(list) = list.sample(random: @random)
  def chance(of) = @random.rand(of).zero?
  def profile(device) = PlainModel::PROFILES.fetch(device["profile"])
  def families(device) = profile(device)["families"]
  def count(device, family) = families(device).find { |one| one["name"] == family }&.then { |one| one["present"] || one["count"] } || 0
  def ids(device, family) = (1..count(device, family)).map { |number| "#{device["id"]}/#{family}/#{number}" }
  def all_of(*kinds) = @devices.select { |device| kinds.include?(profile(device)["kind"]) }
  def add(id, profile) = @devices << {"id" => id, "name" => id.capitalize, "profile" => profile, "rate_hz" => 48_000}
  def cable(one, other, **more) = @cables << {"a" => one, "b" => other, **more.transform_keys(&:to_s)}

  def gear
    @random.rand(1..3).times do |i|
      desk = add("desk#{i}", pick(DESKS)).last
      if chance(6)
        desk["modes"] = {"card" => "2x2"}
      end
      boxes_at(desk, i)
      next if chance(6)

      add("rec#{i}", "recording-computer")
      cable("desk#{i}/card", "rec#{i}/interface")
    end
    @random.rand(1..4).times { |i| add("listener#{i}", pick(LISTENERS)).last.delete("rate_hz") }
  end

  def boxes_at(desk, i)
    %w[aes50-a aes50-b].each do |port|
      next if profile(desk)["ports"].none? { |one| one["name"] == port } || chance(3)

      box = add("box#{i}#{port[-1]}", pick(BOXES)).last
      box["settings"] = {"output_offset" => 8} if chance(4)
      cable("#{desk["id"]}/#{port}", "#{box["id"]}/aes50", **(chance(8) ? {lanes: 20} : {}))
      next unless chance(3)

      add("#{box["id"]}c", pick(BOXES))
      cable("#{box["id"]}c/aes50", "#{box["id"]}/chain")
    end
  end

  def plugs
    sockets = all_of("desk", "box").flat_map { |device| ids(device, "mic") }.shuffle(random: @random)
    @rows.reject { chance(8) }.to_h { |row| [row["id"], chance(12) ? sockets.first : sockets.shift] }.compact
  end

  def patched
    slots, opened = {}, []
    @devices.each { |device| profile(device).fetch("fields", []).each { |field| lay(device, field, slots, opened) } }
    [slots, opened]
  end

  # Closed blocks take one block of sources in line, or nothing; opened ones and single slots take anything.
  def lay(device, field, slots, opened)
    block = field.fetch("block", 1)
    ids(device, field["family"]).each_slice(block) do |group|
      if block == 1 || (field["opens"] && chance(4))
        opened << group.first if block > 1
        group.each { |slot| straight(device, field, slot)&.then { |from| slots[slot] = picked(from) } }
      elsif !chance(4) && group.size == block && (run = aligned(device, field, block))
        group.zip(run) { |slot, from| slots[slot] = {"from" => from} }
      end
    end
  end

  # Mostly one to one, as people patch; now and then anything at all.
  def straight(device, field, slot)
    return nil if chance(4)

    families = field["takes"].flat_map { |name| taken(device, name) }
    return pick(families) if chance(3)

    number = slot[/\d+\z/]
    pick(field["takes"].map { |name| "#{device["id"]}/#{name}/#{number}" } & families)
  end

  def taken(device, name)
    return %w[songs/role/click songs/role/tide] if name == "role"
    return all_of("desk", "box", "interface").flat_map { |one| ids(one, "out-socket") } if name == "*"

    ids(device, name)
  end

  def aligned(device, field, block)
    runs = field["takes"].flat_map { |name| ids(device, name).each_slice(block).select { |run| run.size == block } }
    pick(runs)
  end

  def picked(from)
    device, name, = from.split("/")
    taps = @devices.find { |one| one["id"] == device }&.then { |one| families(one).find { |family| family["name"] == name } }&.fetch("taps", nil) || []
    taps.empty? ? {"from" => from} : {"from" => from, "tap" => pick(taps)}
  end

  def sends
    all_of("desk").each_with_object({}) do |desk, found|
      profile(desk).fetch("assigns", {}).each do |from, mixes|
        targets = mixes.flat_map { |name| ids(desk, name) }
        ids(desk, from).each { |id| targets.sample(@random.rand(0..2), random: @random).then { |some| found[id] = some.to_h { |mix| [mix, {}] } if some.any? } }
      end
    end
  end

  def tracks
    places = all_of("computer").flat_map { |device| ids(device, "track").first(16) }
    places.reject { chance(4) }.each_with_index.map { |place, i| {"id" => "rec/track/t#{i}", "place" => place, "name" => "Track #{i}", "row" => chance(6) ? nil : (@rows[i % 16] || pick(@rows))["id"], "armed" => true} }
  end

  def turned
    all_of("desk").flat_map do |desk|
      case profile(desk)["holds"]
      when "channel" then ids(desk, "channel").select { chance(8) }
      when "desk" then chance(4) ? [desk["id"]] : []
      else []
      end
    end
  end
end
