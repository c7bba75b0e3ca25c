# frozen_string_literal: true

require_relative "random_edits"
require_relative "random_shows"

# Shows that random edits made of the demo, or that were made at random altogether, and what must hold of the
# findings of any show: keys of their own, the same whatever was laid first, whatever things are called and
# whatever gear stands about that nothing joins; mends that mend. Small in the specs, large in bench/checks.rb.
#
#   SoundFindings.faults(7)   # => ["shared: ..."], empty where all holds
module SoundFindings
  EDITS = 25
  private_constant :EDITS

  module_function

  # @param seed [Integer]
  # @return [Loomshuttle::Show]
  def show(seed) = (seed % 3).zero? ? read(RandomShows.new(seed).file) : edited(seed)

  def edited(seed)
    edits = RandomEdits.new(seed)
    start = seed.odd? ? Loomshuttle::Demo.show : Loomshuttle::Demo.show(Loomshuttle::Demo.mended)
    (1..200).reduce([start, 0]) do |(now, done), _|
      after = (done < EDITS) ? applied(edits.next, now) : now
      after.equal?(now) ? [now, done] : [after, done + 1]
    end.first
  end

  def applied(data, now)
    after = Loomshuttle::Edits.from_outside(data).apply(now)
    (after.is_a?(Loomshuttle::Refusal) || after.rig.devices.size < 5) ? now : after
  rescue Loomshuttle::BadInput
    now
  end

  # @return [Array<String>]
  def faults(seed)
    show = show(seed)
    found = Loomshuttle::Checks::All.findings(show)
    twice = found.map(&:key).tally.select { |_, count| count > 1 }.keys
    [*twice.map { |key| "#{key}: one key, two findings" }, *order_faults(show, found, Random.new(seed)),
      *likeness_faults("names", found, renamed(show)), *likeness_faults("gear that nothing joins", found, crowded(show)), *found.select(&:mend).flat_map { |finding| mend_faults(show, found, finding) }]
  end

  def order_faults(show, found, random)
    plain = ->(findings) { findings.map { |finding| [finding.rule, finding.key, finding.digest, finding.what] }.sort }
    (plain[Loomshuttle::Checks::All.findings(shuffled(show, random))] - plain[found]).map { |rule, _, _, what| "#{rule}: hangs on what was laid first: #{what}" }
  end

  # The same show, laid in another order.
  def shuffled(show, random)
    data = JSON.parse(Loomshuttle::Exchange::ShowFile.write(show))
    patch = data["patch"]
    patch["sends"].transform_values! { |mixes| mixes.to_a.shuffle(random: random).to_h }
    %w[slots plugs sends].each { |part| patch[part] = patch[part].to_a.shuffle(random: random).to_h }
    read(data)
  end

  def read(data) = Loomshuttle::Shelf.show_file.build(JSON.parse(JSON.generate(data)))

  # The same show with other words for everything; a track that is called like its row still is.
  def renamed(show)
    data = JSON.parse(Loomshuttle::Exchange::ShowFile.write(show))
    %w[rows tracks devices].each { |list| data.fetch(list, []).each { |one| one["name"] = "#{one["name"][0, 200]} of old" } }
    data["names"] = data.fetch("names", {}).transform_values { |name| "#{name[0, 200]} of old" }
    read(data)
  end

  # With a box, a desk and a computer in the corner.
  def crowded(show)
    data = JSON.parse(Loomshuttle::Exchange::ShowFile.write(show))
    %w[stage-box-16x8 rack-16 recording-computer].each { |profile|
      data["devices"] << {"id" => "spare-#{profile}", "name" => "Spare #{profile}", "profile" => profile, "rate_hz" => show.sample_rate_hz, "clock" => nil}
    }
    read(data)
  end

  def likeness_faults(what, found, other)
    plain = ->(findings) { findings.map { |finding| [finding.rule, finding.key] }.sort }
    was, is = plain[found], plain[Loomshuttle::Checks::All.findings(other)]
    ((was - is) + (is - was)).map { |rule, key| "#{rule}: hangs on #{what}: #{key}" }
  end

  def mend_faults(show, found, finding)
    after = finding.mend.edit.apply(show)
    return ["#{finding.rule}: its mend is refused: #{after.why}"] if after.is_a?(Loomshuttle::Refusal)

    left = Loomshuttle::Checks::All.findings(after)
    stops = ->(all) { all.select { |one| one.severity == "stop" }.map(&:rule).tally }
    before = stops[found]
    [*("#{finding.rule}: \"#{finding.mend.label}\" leaves it" if left.any? { |one| one.key == finding.key }),
      *stops[left].select { |rule, count| count > before.fetch(rule, 0) }.keys.map { |rule| "#{finding.rule}: \"#{finding.mend.label}\" raises #{rule}" }]
  end
  private_class_method :edited, :applied, :order_faults, :shuffled, :read, :renamed, :crowded, :likeness_faults, :mend_faults
end
