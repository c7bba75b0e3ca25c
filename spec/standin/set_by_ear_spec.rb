# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require "tmpdir"
require_relative "../../boot/standin"
require_relative "../../boot/files"
require_relative "../../demo/lanterns"

# The whole set rendered as the deck renders it, through the stand-in's desk to its listeners, and searched for the click: by
# correlation, and in what differs from the same set without it. What the check says of the plan is what is heard.
RSpec.describe "A set by ear" do
  around { |example| Dir.mktmpdir { |folder| (@folder = folder) && example.run } }

  block = 1024

  # Noise of its own for each stem, and a tempo of its own for each song; one is played in another order than it lies.
  def songs
    random = Random.new(5)
    [[133, nil], [180, nil], [240, "Short"]].each_with_index.map do |(bpm, arrangement), at|
      id = "song-#{at}"
      FileUtils.mkdir_p(File.join(@folder, id))
      stems = %w[organ tide].map do |role|
        File.binwrite(File.join(@folder, id, "#{role}.wav"), WavFiles.pcm16(Array.new(2 * 48_000) { random.rand(-6000..6000) }))
        {name: role, role: role, file: "#{role}.wav", sample_rate_hz: 48_000, frames: 2 * 48_000}
      end
      [{id: id, title: "Song #{at}", bpm: bpm, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 2 * 48_000, stems: stems,
        sections: [{id: "in", name: "In", bar: 1}, {id: "out", name: "Out", bar: 2}], arrangements: [{name: "Short", parts: %w[out in out]}]}, {song: id, arrangement: arrangement}.compact]
    end
  end

  def planned(data)
    made = songs
    Loomshuttle::Demo.show(data.merge(songs: made.map(&:first), set_list: made.map(&:last)))
  end

  def program(show, song)
    wish = Loomshuttle::Show::Wish.of(show, song) { |file| File.join(@folder, song.id, file) }
    Loomshuttle::Files::Programs.new(nil).build(JSON.parse(JSON.generate(wish)))
  end

  # @return [Hash{String => Numo::SFloat}] what each listener hears of the set, all its places in a row
  define_method(:heard) do |show, &only|
    console = Loomshuttle::Standin::Console.new(show)
    band = Struct.new(:none) { def block(_, frames) = Numo::SFloat.zeros(Loomshuttle::Standin::Band::MUSICIANS, frames) }.new
    desk = Loomshuttle::Standin::Desk.new(band, frames: block).tap { |one| one.routing = Loomshuttle::Standin::Routing.new(console) }
    blocks = show.songs.flat_map do |song|
      whole = program(show, song)
      one = whole.with(voices: whole.voices.select(&only))
      renderer = Loomshuttle::Render::Renderer.new(lanes: 32)
      (0...whole.length_frames).step(block).map do |from|
        lanes = renderer.block(one, from, block)
        desk.process(from, Numo::Int32.cast((lanes * 2.0**31).clip(-2.0**31, 2.0**31 - 256)).transpose.dup)
        desk.heard.dup
      end
    end
    all = Numo::SFloat.hstack(blocks)
    show.rig.listening.each_with_index.group_by { |id, _| id.split("/").first }.to_h { |device, places| [show.rig.devices[device].name, Numo::SFloat.vstack(places.map { |_, at| all[at, true] })] }
  end

  def click?(voice) = voice.key == "click"

  # How loud the click is in a sound, dBFS of its own peak, by its correlation with the click alone.
  def click_dbfs(sound, click)
    share = sound.shape[0].times.map { |place| (sound[place, true].mulsum(click) / click.mulsum(click)).abs }.max
    20 * Math.log10([share * click.abs.max, 1e-12].max)
  end

  # @return [Hash{String => Float}] listener => dBFS of the click in what he hears, the music taken off
  def clicks(show)
    with, without, alone = heard(show) { true }, heard(show) { |voice| !click?(voice) }, heard(show) { |voice| click?(voice) }
    loudest = alone.values.flat_map { |sound| sound.shape[0].times.map { |place| sound[place, true] } }.max_by { |sound| sound.mulsum(sound) }
    with.to_h { |name, sound| [name, [click_dbfs(sound - without[name], loudest), 20 * Math.log10([(sound - without[name]).abs.max, 1e-12].max)].max] }
  end

  def audience(show) = show.rig.listeners.select { |device| device.profile.audience == "audience" }.map(&:name)
  def stops(show) = Loomshuttle::Checks::All.findings(show).select { |one| one.rule == "click-reach" && one.severity == "stop" }

  it "has no click for the audience to -90 dBFS where the check finds none, in any song and mix; performers hear it" do
    clean = planned(Loomshuttle::Demo.mended)
    mixed = [edit("mix", mix: "band", name: "Band", members: {"songs/role/organ" => -3, "songs/role/tide" => -6}), edit("connect", slot: "rec/lane-out/30", from: "songs/mix/band"),
      edit("role_terms", role: "tide", song: "song-1", lanes: ["rec/lane-out/29"])].reduce(clean) { |now, one| one.apply(now) }
    [clean, mixed].each do |show|
      expect(stops(show)).to eq([])
      found = clicks(show)
      expect(found.slice(*audience(show)).values).to all(be < -90)
      expect(found["Drummer's in-ear"]).to be > -40
    end
  end

  it "is found by ear where the check finds it: in the stream, by one song's exception, inside a mix; and gone when it is mended" do
    clean = planned(Loomshuttle::Demo.mended)
    inside = edit("mix", mix: "all", name: "All", members: {"songs/role/tide" => 0, "songs/role/click" => -6}).apply(clean)
    planted = {
      planned(Loomshuttle::Demo.data) => ["Livestream"],
      edit("role_terms", role: "click", song: "song-2", lanes: ["rec/lane-out/30"]).apply(clean) => ["Main PA", "Livestream"],
      edit("connect", slot: "rec/lane-out/30", from: "songs/mix/all").apply(inside) => ["Main PA", "Livestream"]
    }
    planted.each do |show, listeners|
      expect(stops(show).map { |one| one.title.delete_prefix("Click reaches ") }).to match_array(listeners)
      expect(clicks(show).select { |name, level| audience(show).include?(name) && level > -90 }.keys).to match_array(listeners)
      mended = stops(show).reduce(show) { |now, _| stops(now).first&.mend&.edit&.apply(now) || now }
      expect(clicks(mended).slice(*audience(show)).values).to all(be < -90)
    end
  end
end
