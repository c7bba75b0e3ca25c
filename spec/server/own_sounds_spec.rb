# frozen_string_literal: true

require "core_helper"
require "support/wav_files"
require "support/with_a_worker"
require "open3"
require_relative "../../boot/files"

# Sounds that somebody brings, in the click and the cues of a song, bounced by the real worker.
RSpec.describe "Sounds of one's own" do
  include_context "with a worker"

  song = "/api/library/songs/low-tide-waltz"
  sounds = "/api/library/sounds"
  def edit(song, **change) = api("post", "#{song}/edits", {version: api("get", song).last["version"], song: change})
  def bring(name, bytes) = api("post", "/api/library/sounds?name=#{name}", bytes, "content-type" => "application/octet-stream")
  def kept(id) = Dir[File.join(@folder, "songs/_sounds/#{id}/*")].to_h { |path| [File.basename(path), `soxi -s #{path}`.to_i] }
  def samples(path) = Numo::DFloat.cast(Numo::Int32.from_binary(Open3.capture2("sox", path, "-t", "s32", "-", binmode: true).first)) / 2**31

  # Each example begins with the demo's own song and no sound.
  before do
    edit(song, click: {}, cues: {})
    api("get", sounds).last["sounds"].each { |sound| api("delete", "#{sounds}/#{sound["id"]}") }
    FileUtils.mkdir_p(File.join(@folder, "songs/_sounds"))
  end

  # A knock of 100 samples behind a tenth of a second of what a room says.
  def knock(height: 16_000) = Array.new(4_800) { |n| (n % 3) - 1 } + Array.new(100) { |n| (height * (1 - n / 100.0) * (n.even? ? 1 : -1)).round }

  def bounced
    expect(ended(api("post", "#{@installation.show}/bounces", {songs: %w[low-tide-waltz]}).last["task"])).to include("state" => "done")
    Dir[File.join(@folder, "bounced/*/low-tide-waltz/*click*.wav")].first
  end

  it "keeps one at every rate that a song may have, from its onset on, and knows it again" do
    _, made = bring("rim.wav", WavFiles.pcm16(knock))
    expect(made).to include("name" => "rim", "songs" => 0, "length_ms" => be_between(2, 4))
    expect(kept(made["id"]).to_h { |name, frames| [name, (frames * 1000.0 / name.to_i).between?(1.5, 5.0)] }).to eq("44100.wav" => true, "48000.wav" => true, "88200.wav" => true, "96000.wav" => true)
    expect(samples(File.join(@folder, "songs/_sounds/#{made["id"]}/48000.wav"))[0].abs).to be > 0.001
    expect(bring("another-name.wav", WavFiles.pcm16(knock)).last).to eq(made)
    # Its files went: it is made again.
    FileUtils.rm_rf(File.join(@folder, "songs/_sounds/#{made["id"]}"))
    expect([bring("rim.wav", WavFiles.pcm16(knock)).first, kept(made["id"]).size]).to eq([200, 4])
  end

  it "refuses what is no sound, too long, or silent, and keeps nothing of it" do
    before = Dir.children(File.join(@folder, "songs/_sounds"))
    {"words" => "not a sound", "long" => WavFiles.pcm16([1000] * 48_000 * 31), "silent" => WavFiles.pcm16([0] * 4800), "" => WavFiles.pcm16(knock)}.each do |name, bytes|
      expect(bring(name, bytes).first).to be_between(400, 422), name
    end
    expect(Dir.children(File.join(@folder, "songs/_sounds"))).to eq(before)
  end

  it "clicks with it, at every beat of the bounce, and makes that anew when the sound is another" do
    api("post", "#{@installation.show}/edits", {version: api("get", @installation.show).last["version"], edit: {kind: "take", slot: "rec/lane-out/31", source: "songs/role/click"}})
    rim, other = [knock, knock(height: 8000)].map.with_index { |samples, at| bring("rim-#{at}", WavFiles.pcm16(samples)).last["id"] }
    edit(song, click: {sound: "own", own: {beat: rim, accent: rim}})
    click = samples(bounced)
    onsets = Loomshuttle::Show::Song.from_h(api("get", song).last.slice("id", "title", "bpm", "beats_per_bar", "sample_rate_hz", "length_frames", "count_in_bars", "tempo")).then { |known| 60.0 / known.bpm * known.sample_rate_hz }
    sound = samples(File.join(@folder, "songs/_sounds/#{rim}/48000.wav"))
    heights = 4.times.map { |beat| click[(onsets * beat).round...((onsets * beat).round + sound.size)] }
    level = heights.first.abs.max / sound.abs.max
    expect(heights.map { |one| (one - sound * level).abs.max }.max).to be < 1e-6
    edit(song, click: {sound: "own", own: {beat: other, accent: other}})
    expect(samples(bounced)[0...sound.size].abs.max).to be_within(0.02).of(heights.first.abs.max / 2)
  end

  it "is heard at its bar as a cue, beside what is read out" do
    rim = bring("rim", WavFiles.pcm16(knock)).last["id"]
    _, changed = edit(song, cues: {said: [{bar: 3, text: "rim", sound: rim}]}, click: {})
    expect(changed).to include("unspoken" => 0)
    file = JSON.parse(Net::HTTP.get(URI("#{@installation.address}#{@installation.show}/file")))
    expect(file["songs"].find { |one| one["id"] == "low-tide-waltz" }["cues"]).to eq("said" => [{"bar" => 3, "text" => "rim", "sound" => rim}])
    show = Loomshuttle::Shelf.show_file.parse(JSON.generate(file))
    one = show.library["low-tide-waltz"]
    cues = Loomshuttle::Show::SpokenCue.of(Loomshuttle::Show::Played.of(show, one))
    expect(cues.map { |cue| [cue.sound, cue.at_frame - one.layout.bar_1_at] }).to eq([[rim, one.map.frame(one.map.bar_start(3), 48_000)]])
  end

  it "is refused where the library has none of it, goes when nobody asks for it, and is missed on disk" do
    rim = bring("rim", WavFiles.pcm16(knock)).last["id"]
    expect([edit(song, click: {sound: "own"}).first, edit(song, click: {sound: "own", own: {beat: "0" * 16}}).first]).to eq([422, 422])
    edit(song, cues: {}, click: {sound: "own", own: {beat: rim}})
    status, said = api("delete", "#{sounds}/#{rim}")
    expect([status, said.dig("error", "message")]).to match([422, /no song asks for/])
    FileUtils.rm_rf(File.join(@folder, "songs/_sounds/#{rim}"))
    @installation.wait("the finding") { api("get", @installation.show).last["findings"].any? { |finding| finding["title"].include?("a sound of its own") } }
    edit(song, click: {})
    expect([api("delete", "#{sounds}/#{rim}").first, api("get", sounds).last["sounds"].map { |sound| sound["id"] }.include?(rim)]).to eq([200, false])
  end
end
