# frozen_string_literal: true

require_relative "random_edits"

# Shows that random edits made of the demo, and what must hold of the findings of any show: keys of
# their own, the same whatever was laid first, mends that mend. Small in the specs, large in bench/checks.rb.
#
#   SoundFindings.faults(7)   # => ["shared: ..."], empty where all holds
module SoundFindings
  EDITS = 25
  private_constant :EDITS

  module_function

  # @param seed [Integer]
  # @return [Loomshuttle::Show]
  def show(seed)
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
    [*twice.map { |key| "#{key}: one key, two findings" }, *order_faults(show, found, Random.new(seed)), *found.select(&:mend).flat_map { |finding| mend_faults(show, found, finding) }]
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
    Loomshuttle::Exchange::ShowFile.new(schemas: Loomshuttle::Shelf.show_schemas, profiles: Loomshuttle::Shelf.profiles).build(data)
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
  private_class_method :applied, :order_faults, :shuffled, :mend_faults
end
