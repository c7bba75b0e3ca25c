# frozen_string_literal: true

# Makes edits of every kind at random, as data that comes from outside: fields of the right
# type or not, places that are there or not.
#
#   RandomEdits.new(7).next   # => {"kind" => "shift", "slots" => [...], "by" => 8}
class RandomEdits
  PLACES = %w[
    desk/channel/1 desk/channel/9 desk/channel/32 desk/channel/33 desk/mic/1 desk/mic/20 desk/aes50-a-in/3 desk/card-return/2
    desk/card-send/5 box-a/mic/9 box-a/out-socket/2 list/row/1 list/row/7 list/row/99 rec/track/1 rec/track/30 rec/lane-in/4
    rec/lane-out/1 desk/output/1 desk/output/12 desk/out-socket/3 desk/bus/1 desk/bus/9 desk/main/1 desk/matrix/2 booth/in/1
    pa/in/2 songs/role/click songs/role/none desk box-a rec pa desk/aes50-a rec/interface desk/channel desk/card-send desk/ /
    a/b/c x//1 desk/channel/one desk/channel/-1 desk/channel/999999999999 ü/💥/1
  ].freeze + ["desk/channel/1\n", ""]
  ODD = [nil, true, 0, -1, 1.5, 1e300, "", "x", [], {}, [nil], {"a" => nil}].freeze
  TEXTS = ["", "x", "Name 💥", "a" * 400, "tab\t", "raw", "Afternoon", "own-desk", "leader", "yes"].freeze

  def initialize(seed)
    @random = Random.new(seed)
    @fields = Loomshuttle::Edits.outside.transform_values do |made|
      made.fields.to_h { |field| [field.name, [Loomshuttle::Edits::Types::ALL.key(field.type), !field.required]] }
    end
  end

  # @return [Hash] string keys
  def next(deep: true)
    kind = pick(@fields.keys - (deep ? [] : ["group"]))
    given = @fields[kind].reject { |_, (_, optional)| optional && one_in(2) }
    {"kind" => kind, **given.to_h { |name, (type, _)| [name, one_in(15) ? pick(ODD) : value(type)] }}
  end

  private

  def pick(list) = list.sample(random: @random)
  def one_in(count) = @random.rand(count).zero?
  def some(list, most = 4) = list.sample(@random.rand(0..most), random: @random)
  def place = pick(PLACES)

  def take
    pick([nil,
      {},
      {"from" => place},
      {"from" => place, "tap" => pick([nil, "raw", "post-fader", "x"]), "delay_ms" => pick([nil, 0, 5.5, -1, 1e5])}])
  end

  # Neighbours, as runs are made of.
  def run_of_slots
    place.then do |id|
      (id.match?(%r{/\d+\z}) && one_in(2)) ? (0..7).map { |step| id.sub(/\d+\z/) { |number| (number.to_i + step).to_s } } : some(PLACES)
    end
  end

  def value(type)
    case type
    when :id then one_in(6) ? pick(TEXTS) : place
    when :ids then run_of_slots
    when :text then pick(TEXTS)
    when :flag then one_in(2)
    when :number, :length_m then pick([0, 1.5, -90, 10, 1e5, -1])
    when :whole then pick([0, 1, 8, -8, 500, 48_000, 44_100, 96_000])
    when :takes then some(PLACES, 3).to_h { |id| [id, take] }
    when :kept then some(PLACES, 3).to_h { |id| [id, pick([nil, {"from" => place, "tap" => "raw"}])] }
    when :cells then some(%w[list/row/1 list/row/13 list/row/40 list/row/0 x], 3).to_h { |id| [id, cells] }
    when :words then {pick(%w[interface card x]) => pick(%w[2x2 48x48 32x32])}
    when :numbers then {pick(%w[output_offset x]) => pick([0, 8, 9])}
    when :object then profile
    when :acceptance then {"who" => "x", "at" => "y", "digest" => "z"}
    when :scene then pick(["Afternoon", "x", patch])
    when :edits then Array.new(@random.rand(3)) { self.next(deep: false) }
    end
  end

  def cells
    pick([nil, {"name" => pick(TEXTS)}, {"pair" => place}, {"phantom" => "never", "safe" => one_in(2)}, {"lamp" => 1}])
  end

  # A shipped profile with parts of it missing.
  def profile
    whole = pick(Loomshuttle::Shelf.profiles.values).to_data.merge("name" => "own-desk", "own" => one_in(2))
    whole.to_a.sample(@random.rand(6..14), random: @random).to_h
  end

  def patch
    {"slots" => {place => {"from" => place}}, "plugs" => {place => place}, "sends" => {place => {place => {}}},
     "opened" => [place], "powered" => [place]}
  end
end
