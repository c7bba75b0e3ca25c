# frozen_string_literal: true

require_relative "random_shows"

# Holds the product's reading of a random show against the plain model's: every join, the ways of places,
# who hears them, what they carry, what channels listen to, and what a swing does, there and back. Small in
# the specs, large in bench/models.rb.
#
#   Agreement.faults(7)   # => ["carries rec0/track/3: ..."], empty where both agree
module Agreement
  CODEC = Loomshuttle::Shelf.show_file
  private_constant :CODEC

  module_function

  # @param seed [Integer]
  # @param places [Integer] how many of a show's places are walked from
  # @return [Array<String>]
  def faults(seed, places: 60)
    file = RandomShows.new(seed).file
    show = CODEC.parse(JSON.generate(file))
    random = Random.new(seed)
    [*readings(show, PlainModel.new(plain(file)), random, places), *swings(show, random)]
  end

  def plain(file) = JSON.parse(JSON.generate(file))
  def model(show) = PlainModel.new(JSON.parse(Loomshuttle::Exchange::ShowFile.write(show)))

  def readings(show, model, random, places)
    some = (model.places + show.rows.keys + show.roles.values.map(&:endpoint)).sample(places, random: random)
    joins = ->(all) { all.map { |from, to, kind| [from, to, kind] }.sort }
    [unlike("joins", joins[show.graph.edges.map { |edge| [edge.from, edge.to, edge.kind] }], joins[model.joins]),
      *some.flat_map { |id| ways(show, model, id) }, *model.channels.flat_map { |id| channel(show, model, id) },
      unlike("returns", Loomshuttle::Signal::Sources.returns(show), model.returning)].compact
  end

  def ways(show, model, id)
    forward, back = %i[forward back].map { |direction| Loomshuttle::Signal::Trace.public_send(direction, show, id).steps.to_set { |edge| [edge.from, edge.to] } }
    [unlike("onward of #{id}", forward, model.onward(id)), unlike("back from #{id}", back, model.backward(id)),
      unlike("#{id} is heard at", Loomshuttle::Signal::Reach.listeners(show, id).to_set(&:id), model.heard_by(id)),
      *((show.rows.key?(id) || id.start_with?("songs/")) ? [] : [unlike("#{id} carries", Loomshuttle::Signal::Carried.of(show, id), model.carries(id))])]
  end

  def channel(show, model, id)
    row = Loomshuttle::Signal::Sources.channels(show)[id]
    [unlike("feed of #{id}", Loomshuttle::Signal::Feed.of(show, id), model.feed(id)), unlike("row of #{id}", row, model.row_of(id))]
  end

  def swings(show, random)
    desk = [nil, *show.rig.all_of("desk").map(&:id)].sample(random: random)
    keep = model(show).returning.keys.select { |id| desk.nil? || id.start_with?("#{desk}/") }.sample(random.rand(0..2), random: random)
    plan = Loomshuttle::Soundcheck::Swing.to_recorder(show, keep: keep, desk: desk)
    return refused(show, desk, keep, plan) if plan.is_a?(Loomshuttle::Refusal)

    there(show, plan, desk, keep)
  end

  # Only where there is nothing to turn.
  def refused(show, desk, keep, refusal)
    now = model(show)
    turning = now.returning.keys.select { |id| of?(id, desk) && !keep.include?(id) && now.feed(id) != :recorder }
    turning.empty? ? [] : ["swing to the recorder is refused, #{turning.size} could turn: #{refusal.why}"]
  end

  def there(show, plan, desk, keep)
    before, after = model(show), model(plan.edit.apply(show))
    channels = before.channels.select { |id| of?(id, desk) }
    others = before.channels - channels
    live = ->(one, id) { (sound = one.carries(id)) && !before.kind_of_mix?(sound) }
    [unlike("swing: turns", plan.turns.sort, channels.select { |id| before.feed(id) != :recorder && after.feed(id) == :recorder }.sort),
      unlike("swing: stays", plan.stays.sort, channels.select { |id| live[after, id] && after.feed(id) == :stage }.sort),
      unlike("swing: silences", plan.silences.sort, channels.select { |id| live[before, id] && !live[after, id] }.sort),
      unlike("swing: kept", keep.select { |id| after.feed(id) == :recorder && before.feed(id) != :recorder }, []),
      unlike("swing: other desks", others.map { |id| after.feed(id) }, others.map { |id| before.feed(id) }),
      *wrong_tracks(before, after, plan), *back(show, plan, desk)].compact
  end

  # Whatever turned plays the track of its own row; what had none may be given one by a second set that somebody made.
  def wrong_tracks(before, after, plan)
    plan.turns.reject { |id| before.row_of(id).nil? || after.row_of(id) == before.row_of(id) }.map { |id| "swing: #{id} plays #{after.row_of(id)}, its row is #{before.row_of(id)}" }
  end

  def back(show, plan, desk)
    staged = Loomshuttle::Soundcheck::Swing.staged(show, desk: desk)
    there = plan.edit.apply(show)
    way = Loomshuttle::Soundcheck::Swing.to_stage(there, desk: desk)
    return ["swing: no way back: #{way.why}"] if way.is_a?(Loomshuttle::Refusal)

    home = way.edit.apply(there)
    after = model(home)
    left = after.channels.select { |id| of?(id, desk) && after.feed(id) == :recorder }
    [unlike("back: left", way.left.sort, left.sort),
      (unlike("back: the proof", home.patch, staged.patch) if plan.proved), ("back: proved with #{left} left" if way.proved && left.any?)]
  end

  def of?(id, desk) = desk.nil? || id.start_with?("#{desk}/")

  def unlike(what, product, model)
    "#{what}: #{short(product, model)}, the plain model: #{short(model, product)}" unless product == model
  end

  # What the other has not, of lists and sets.
  def short(one, other) = ((one.is_a?(Enumerable) && other.is_a?(Enumerable) && one.size > 4) ? (one.to_a - other.to_a).first(4) : one).inspect
  private_class_method :plain, :model, :readings, :ways, :channel, :swings, :refused, :there, :wrong_tracks, :back, :of?, :unlike, :short
end
