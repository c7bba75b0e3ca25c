# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require "support/with_a_worker"
require "net/http"
require "open3"
require_relative "../../boot/files"

# What the real worker makes of songs: cues spoken, other tempi, files for any player.
RSpec.describe "Songs in the background" do
  include_context "with a worker"

  song = "/api/library/songs/low-tide-waltz"
  def get(path) = Net::HTTP.get_response(URI("#{@installation.address}#{path}"))
  def place = "#{@installation.show}/bounces"
  def version = api("get", @installation.show).last["version"]
  def stem(name) = File.join(@folder, "songs/low-tide-waltz", name)
  def bytes(path) = Open3.capture2("sox", path, "-t", "s32", "-", binmode: true).first
  def samples(path) = Numo::DFloat.cast(Numo::Int32.from_binary(bytes(path))) / 2**31

  def worked(address, wish) = ended(api("post", address, wish).last["task"])
  def bounced(**wish) = worked(place, wish)
  def prepared(percent) = worked("/api/library/songs/low-tide-waltz/tempi", {percent: percent})

  # Level of one tone by its own correlation.
  def tone(sound, hz)
    at = Numo::DFloat.new(sound.size).seq * (2 * Math::PI * hz / 48_000)
    Math.sqrt((sound * Numo::NMath.sin(at)).mean**2 + (sound * Numo::NMath.cos(at)).mean**2) * 2
  end

  # Each example begins with the demo's own song.
  before do
    @before = Dir[stem("*.wav")].to_h { |path| [path, File.binread(path)] }
    whole = api("get", song).last
    api("post", "#{song}/edits", {version: whole["version"], song: {cues: {}}})
  end

  after do
    @before.each { |path, kept| File.binwrite(path, kept) }
    api("post", "#{@installation.show}/edits", {version: version, edit: {kind: "listed", song: "low-tide-waltz", percent: nil}})
    api("post", "#{@installation.show}/edits", {version: version, edit: {kind: "clear", slot: "rec/lane-out/32"}})
  end

  it "measures songs that nobody has, and tells of one that it cannot read" do
    other = Loomshuttle::Demo.data[:songs].first.then { |one| {**one, id: "gone", title: "Gone ashore"} }
    api("post", "/api/shows/file", Loomshuttle::Exchange::ShowFile.write(Loomshuttle::Demo.show(Loomshuttle::Demo.mended.merge(songs: [other], set_list: [{song: "gone"}]))))
    task = worked("/api/library/songs/measured", {songs: %w[gone low-tide-waltz]})
    expect(task.values_at("state", "words")).to match(["done", /\A1 song measured. Not measured: .*Gone ashore/])
    found = api("get", song).last
    # Against ffmpeg's own words about the sum.
    both = ["marsh organ.wav", "tide drum.wav"].flat_map { |name| ["-i", stem(name)] }
    said = Open3.capture2e("ffmpeg", "-nostdin", "-hide_banner", *both, "-filter_complex", "amix=2:normalize=0,ebur128=peak=true", "-f", "null", "-").first
    expect(found["loudness_lufs"]).to be_within(0.11).of(said.split("Summary:").last[/I:\s+(-[\d.]+) LUFS/, 1].to_f)
    drawn = api("get", "#{song}/overview?points=100").last
    whole = samples(stem("marsh organ.wav"))
    first = whole[0...(whole.size / 100)]
    expect([drawn["points"].size, drawn["points"].first[1] >= (first.max * 32_767).floor, drawn["bars"].first(2)]).to eq([100, true, [0, 115_200]])
    expect(worked("/api/library/songs/measured", {songs: %w[gone]})["state"]).to eq("failed")
  end

  it "are measured without keeping anybody waiting for what they asked for" do
    measures = Array.new(10) { api("post", "/api/library/songs/measured", {songs: %w[low-tide-waltz]}).last["task"] }
    # Any other task; this one leaves nothing behind.
    expect(bounced(songs: ["no-song"])["state"]).to eq("failed")
    expect(api("get", "/api/tasks/#{measures.last}").last["state"]).to eq("waiting")
    measures.each { |task| api("post", "/api/tasks/#{task}/stop") }
    @installation.wait("their end") { measures.none? { |task| %w[waiting running stopping].include?(api("get", "/api/tasks/#{task}").last["state"]) } }
  end

  # A click of 5 ms each 600 ms, and a tone of 441 Hz: 100 beats a minute.
  def with_clicks
    clicks = Array.new(20 * 48_000) { |n| ((n % 28_800) < 240) ? (20_000 * Math.sin(n * 0.6)).round : 0 }
    File.binwrite(stem("tide drum.wav"), WavFiles.pcm16(clicks))
    File.binwrite(stem("marsh organ.wav"), WavFiles.pcm16(Array.new(20 * 48_000) { |n| (10_000 * Math.sin(2 * Math::PI * 441 * n / 48_000)).round }))
  end

  it "are bounced lane by lane as the command does it, again only what has changed, and handed out" do
    expect(bounced.values_at("state", "words")).to match(["done", /\A1 song in .+\.\z/])
    made = api("get", place).last.first
    expect(made["files"].map { |file| file["name"] }).to eq(["29 organ.wav", "30 tide.wav", "31 click.wav"])
    file = File.join(@folder, "show.loom.json")
    File.write(file, JSON.generate(api("get", "#{@installation.show}/file").last))
    command = ["bundle", "exec", File.join(Loomshuttle::ROOT, "bin/loomshuttle"), "bounce", file]
    _, said, status = Open3.capture3(*command, "--song", "Low tide waltz", "--songs", File.join(@folder, "songs"), "--out", File.join(@folder, "out"))
    expect([said, status.exitstatus]).to eq(["", 0])
    made["files"].each { |one| expect(bytes(File.join(made["folder"], one["name"])) == bytes(File.join(@folder, "out", one["name"]))).to be(true), one["name"] }
    expect(bounced["words"]).to include("1 as before")
    handed = get("#{place}/#{made["song"]}/29%20organ.wav")
    expect(handed.body.b).to eq(File.binread(File.join(made["folder"], "29 organ.wav")))
    ["29%20organ.wav%00", "..%2F..%2Frun%2Fdatabase.json", "bounce.json"].each { |odd| expect(get("#{place}/#{made["song"]}/#{odd}").code.to_i).to be_between(400, 499) }
  end

  it "are not bounced without a stem, which is said, and what was made before stays" do
    bounced
    drum = stem("tide drum.wav")
    File.rename(drum, "#{drum}.away")
    ended = bounced
    expect([ended["state"], ended["words"]]).to match(["failed", /tide drum\.wav.*of Low tide waltz that is on disk/])
    expect(api("get", place).last.first["files"].size).to eq(3)
    File.rename("#{drum}.away", drum)
    expect(bounced(songs: ["no-song"]).values_at("state", "words")).to match(["failed", /songs of the set list/])
  end

  it "have cues that lie in the song, the bar before a section, on the lane of their role" do
    whole = api("get", song).last
    expect(api("post", "#{song}/cues").first).to eq(422)
    cues = {sections: true, said: [{bar: 4, text: "Watch the tide"}]}
    changed = api("post", "#{song}/edits", {version: whole["version"], song: {cues: cues}}).last
    expect([changed["cues"], changed["unspoken"]]).to eq([JSON.parse(JSON.generate(cues)), whole["sections"].size + 1])
    api("post", "#{@installation.show}/edits", {version: version, label: "cue", edit: {kind: "connect", slot: "rec/lane-out/32", from: "songs/role/cue"}})
    @installation.wait("the phrases") { api("get", song).last["unspoken"].zero? }

    expect(bounced["state"]).to eq("done")
    made = api("get", "#{@installation.show}/bounces").last.first
    path = File.join(made["folder"], "32 cue.wav")
    levels = Numo::Int32.from_binary(bytes(path)).abs
    # 100 beats a minute in 4/4, a bar counted in: 2.4 s a bar, bar 1 at 2.4 s.
    bar = ->(number) { ((number * 2.4) * 48_000).round }
    heard = (0...(levels.size / bar[1])).select { |number| levels[bar[number]...bar[number + 1]].max > 2**26 }
    wanted = [*whole["sections"].map { |section| section["bar"] - 1 }.reject(&:negative?), 4]
    expect(heard & wanted).to eq(wanted.uniq.sort)
    # Each begins with its first word: what lies before the bar is silent.
    wanted.reject(&:zero?).each { |number| expect(levels[(bar[number] - 4800)...bar[number]].max).to be < 2**26 }
  end

  it "have no cues in a language that nobody speaks here; cues are undone like any edit" do
    whole = api("get", song).last
    expect(api("post", "#{song}/edits", {version: whole["version"], song: {cues: {language: "xx"}}}).last["error"]["field"]).to include("language")
    api("post", "#{song}/edits", {version: whole["version"], song: {cues: {}}})
    expect(api("post", "#{song}/undo", {}).last["cues"]).to eq(whole["cues"])
  end

  it "are prepared at another tempo: as long as they should be, in time, of the same pitch; the set list plays them" do
    with_clicks
    frames = api("get", song).last["stems"].to_h { |one| one.values_at("file", "frames") }
    expect([prepared(80)["state"], api("get", song).last["tempi"]]).to eq(["done", [80]])
    slow = samples(stem("at-80/tide drum.wav"))
    expect(slow.size).to eq((frames["tide drum.wav"] * 100 / 80.0).round)
    onsets = slow.abs.gt(0.1).where.to_a.slice_when { |one, other| other - one > 12_000 }.map(&:first)
    expect(onsets.size).to be_between(30, 34)
    expect(onsets.drop(1).map { |at| (at - (at / 36_000.0).round * 36_000).abs }.max).to be < 0.002 * 48_000
    middle = samples(stem("at-80/marsh organ.wav"))[96_000...480_000]
    expect(tone(middle, 441)).to be_within(0.06).of(10_000 / 32_768.0)
    expect(tone(middle, 441 * 0.8)).to be < 0.01

    expect(api("post", "#{@installation.show}/edits", {version: version, edit: {kind: "listed", song: "low-tide-waltz", percent: 80}}).first).to eq(200)
    waltz = api("get", @installation.show).last["songs"].first
    expect(waltz.values_at("percent", "tempi", "bpm")).to eq([80, [80], 80.0])
  end

  it "are not prepared beyond 60 to 120 %, nor where a stem cannot be read, and nothing is left behind" do
    [59, 100, 121].each { |percent| expect(api("post", "#{song}/tempi", {percent: percent}).first).to eq(400) }
    File.write(stem("tide drum.wav"), "no sound")
    expect(prepared(90)["state"]).to eq("failed")
    expect([api("get", song).last["tempi"].include?(90), Dir.glob(stem("{,.}at-90"))]).to eq([false, []])
  end
end
