# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/fingers"
require "support/wav_files"
require_relative "../../boot/engine"

# A set of three songs as a night runs it: arranged and listed on the pages, played on through by keys, cut short, and
# what was pressed kept. Real deck, engine and desk.
RSpec.describe "A night" do
  include_context "in the browser"

  # Three bars of two seconds each, a bar counted in.
  before(:all) do
    songs = %w[first second third].map do |id|
      folder = File.join(@folder, "songs", id)
      FileUtils.mkdir_p(folder)
      File.binwrite(File.join(folder, "organ.wav"), WavFiles.pcm16(Array.new(6 * 48_000) { |n| ((n * 7919) % 20_000) - 10_000 }))
      sections = [["rise", 1], ["fall", 3]].map { |name, bar| {id: name, name: name.capitalize, bar: bar} }
      {id: id, title: "The #{id}", bpm: 120, beats_per_bar: 4, sample_rate_hz: 48_000, length_frames: 6 * 48_000, sections: sections, stems: [{name: "Organ", role: "organ", file: "organ.wav", sample_rate_hz: 48_000, frames: 6 * 48_000}]}
    end
    @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended.merge(songs: songs)))
  end

  before do
    # A stage that is being set up takes its card away for a moment.
    @installation.wait("the device") { @installation.engine(do: "status").dig("device", "state") == "running" }
    %w[first second third].each { |song| list(song: song, **(Loomshuttle::Show::Listed.members - %i[song roles]).to_h { |field| [field, nil] }) }
  end

  after { @installation.api("post", "/api/playing/stop", {}) }

  def version = @installation.api("get", @installation.show).last["version"]
  def list(kind = "listed", **given) = @installation.api("post", "#{@installation.show}/edits", {version: version, edit: {kind: kind, **given}})
  def stage(session = page) = session.visit("#{@installation.address}/shows/#{@installation.show_id}/stage")
  def deck = @installation.deck(do: "status")
  def songs = @installation.api("get", @installation.show).last["songs"]
  def press(key) = page.find("body").send_keys(key)

  # A song goes round while it is looked at: on a busy machine that takes longer than the song. Said past the page, which
  # may not know of the song yet.
  def hold(song)
    @installation.wait("#{song} to play") { deck["playing"]&.then { |playing| playing["key"] == "song/#{song}" && !playing["paused"] } }
    expect(@installation.api("post", "/api/playing/loop", {loop: [0]}).first).to eq(200)
    page.assert_text("goes round")
  end

  # The first song of the set, whichever one was chosen before, on a stage that is still.
  def begin_first
    @installation.wait("silence") { deck["playing"].nil? }
    stage
    press("p") until page.has_selector?("h1", text: "The first", wait: 1)
    page.click_button("Go (Space)")
    hold("first")
  end

  def let_go
    expect(@installation.api("post", "/api/playing/loop", {loop: nil}).first).to eq(200)
    page.assert_no_text("goes round")
  end

  def tonight(title)
    page.click_button("Tonight: #{title}")
    page.within("[role=dialog]") do
      yield
      page.click_button("Close")
    end
    page.assert_no_selector("[role=dialog]")
  end

  it "is arranged and listed on the pages, and what is typed holds on the stage" do
    visit(page, "tracks")
    page.click_button("The first", exact: true)
    page.within("[role=dialog]") do
      page.fill_in("New arrangement", with: "Falling")
      page.click_button("Add arrangement")
      page.click_button("No Rise at 1")
      page.assert_no_selector("[data-arrangement] li", text: "Rise")
      page.click_button("Close")
    end
    tonight("The first") do
      page.find("[role=combobox]").click
      page.document.find("[role=option]", text: "Falling").click
      page.click_button("goes on", exact: true)
    end
    page.assert_selector("[data-song=first]", text: "as Falling · goes on without a gap")
    tonight("The second") do
      page.click_button("goes on after")
      page.fill_in("Wait, s", with: "1")
      page.fill_in("Key", with: "D minor")
    end
    page.assert_selector("[data-song=second]", text: "in D minor · goes on after 1 s")
    expect(songs.map { |song| [song["playing_frames"], *song["listed"].values_at("arrangement", "after", "wait_s", "key")] }).to eq(
      [[96_000, "Falling", "on", 0, ""], [384_000, nil, "wait", 1, "D minor"], [384_000, nil, "go", 0, ""]]
    )
    page.assert_selector("[data-testid=set-length]", text: "3 songs, 0:18 of music, 0:19 with all between")
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa)
  end

  it "plays on from song to song, a phone follows, and a list that is changed meanwhile holds" do
    list(song: "first", after: "on")
    coming = ->(key) { @installation.wait("#{key} to lie ready") { deck["next"]&.then { |coming| coming if coming["key"] == key && coming["ready"] } } }
    stage
    phone = Capybara::Session.new(:loom)
    fingers = Fingers.new(phone, width: 390, height: 844)
    stage(phone)
    page.assert_text("Next: The second, without a gap")
    press(:space)
    hold("first")
    [page, phone].each { |session| session.assert_selector("h1", text: "The first") }
    coming["song/second"]
    list("set_list", songs: %w[first third second])
    coming["song/third"]
    list("set_list", songs: %w[first second third])
    expect(coming["song/second"]["failed"]).to be_nil
    let_go
    hold("second")
    page.assert_selector("h1", text: "The second")
    phone.assert_selector("h1", text: "The second")
    press("x")
    [page, phone].each { |session| session.assert_text("silent on every lane") }
    press("x")
    page.assert_no_text("silent on every lane")
    let_go
    [page, phone].each { |session| session.assert_selector("[data-testid=section]", text: "Ready") && session.assert_selector("h1", text: "The third") }
    expect(@installation.wait("the third to stand ready") { deck["playing"] }).to include("key" => "song/third", "paused" => true, "position_frames" => 0)
    press(:space)
    hold("third")
    page.assert_selector("[data-testid=section]", text: /\S/)
    expect([fingers.beyond, fingers.small]).to eq([[], []])
    page.click_button("Levels of the roles")
    page.click_button("Mute organ")
    expect(@installation.wait("the mute") { deck.dig("playing", "muted").then { |keys| keys if keys.any? } }).to eq(["organ/0"])
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa)
    press("b")
    # The bar may be over before a page of a machine that stands still is looked at again.
    page.assert_text(/armed: a stop|Ready/)
    page.assert_selector("[data-testid=section]", text: "Ready")
    page.click_button("Log of the night")
    %w[Go Silence Stop].each { |word| page.assert_selector("[aria-label='Log of the night'] td", text: word, minimum: 1) }
    page.assert_selector("[aria-label='Log of the night'] td", text: /The third, bar/)
  ensure
    phone&.quit
  end

  it "marks the take that runs with songs and sections, each at the frame at which it sounded" do
    stage
    page.find("body").send_keys("p") until page.has_selector?("h1", text: "The first", wait: 1)
    @installation.api("post", "#{@installation.show}/capture/start", {})
    press(:space)
    sounding = @installation.wait("it to sound") { deck["playing"]&.then { |playing| playing if playing["position_frames"].positive? } }
    begun = sounding["frame"] - sounding["position_frames"]
    @installation.wait("the marks") { @installation.engine(do: "status")["recording"]["marks"] == 3 }
    @installation.api("post", "/api/capture/stop", {})
    takes = -> { @installation.api("get", "#{@installation.show}/takes").last["takes"] }
    take = @installation.wait("the take") { takes.call.find { |one| one["state"] == "closed" && one["marks"].size >= 3 } }
    expect(take["marks"].map { |mark| mark["label"] }).to eq(["The first", "Rise", "Fall"])
    start = Loomshuttle::Engine::Journal.read(File.join(@folder, "takes", take["folder"])).start_frame
    expect(take["marks"].map { |mark| mark["frame"] }).to eq([0, 96_000, 3 * 96_000].map { |frame| begun - start + frame })
  end

  it "is run by pedals that are learnt by pressing them, held where the page holds" do
    fake = <<~JS
      window.pedal = {name: "Foot rail", state: "connected", onmidimessage: null};
      navigator.requestMIDIAccess = async () => ({inputs: new Map([["1", window.pedal]]), onstatechange: null});
    JS
    stubbed = page.driver.browser.execute_cdp("Page.addScriptToEvaluateOnNewDocument", source: fake)
    send = ->(*bytes) { page.execute_script("window.pedal.onmidimessage({data: new Uint8Array(arguments[0])})", bytes) }
    stage
    page.click_button("Pedals")
    page.assert_text("Heard: Foot rail")
    {"Go" => [0x92, 60, 90], "Stop" => [0xB0, 64, 127]}.each do |words, bytes|
      page.click_button("Learn: #{words}", exact: true)
      send[*bytes]
      page.assert_no_text("press it now")
    end
    page.assert_selector("[data-act=go]", text: "note 60 on channel 3")
    # Somebody who looks at them runs nothing.
    send[0x92, 60, 90]
    page.within("[role=dialog]") { page.click_button("Close") }
    page.assert_no_selector("[role=dialog]")
    expect(deck["playing"]).to be_nil
    # Another channel is another pedal.
    send[0x91, 60, 90]
    send[0x92, 60, 90]
    hold("first")
    page.assert_no_selector("[data-testid=section]", text: "Ready")
    send[0xB0, 64, 127]
    send[0xB0, 64, 0]
    page.assert_no_selector("[data-testid=section]", text: "Ready", wait: 1)
    send[0xB0, 64, 127]
    page.assert_selector("[data-testid=section]", text: "Ready")
    # It is still known when the page is opened anew.
    stage
    page.assert_selector("[data-testid=section]", text: "Ready")
    page.find_button("Pedals")
    @installation.wait("the pedal") { page.evaluate_script("window.pedal.onmidimessage !== null") }
    send[0x92, 60, 1]
    hold("first")
  ensure
    page.driver.browser.execute_cdp("Page.removeScriptToEvaluateOnNewDocument", identifier: stubbed["identifier"]) if stubbed
    page.execute_script("localStorage.removeItem('loomshuttle-midi-keys')")
  end

  it "goes on from song to song while server and database are gone, and is found as it plays when they are back" do
    list(song: "first", after: "on")
    begin_first
    @installation.kill("server")
    @installation.stop_database
    page.assert_text("The server does not answer")
    # By the deck's own line: the song goes to its end, and the next one begins.
    @installation.deck(do: "loop", loop: nil)
    @installation.wait("the second") { deck["playing"]&.fetch("key") == "song/second" }
    @installation.deck(do: "loop", loop: [0])
    @installation.restart_database
    @installation.start("server")
    page.assert_selector("h1", text: "The second")
    page.assert_no_text("The server does not answer")
    let_go
  end

  it "goes on in time when the device was away in mid-song, and says so until somebody has seen it" do
    begin_first
    # Where the song lies under the device's clock, round and round.
    origin = -> { deck["playing"].then { |now| (now["position_frames"] - now["frame"]) % now["length_frames"] } }
    before = origin.call
    @installation.kill("standin")
    @installation.wait("the loss") { @installation.engine(do: "status").dig("device", "state") != "running" }
    @installation.start_process("standin")
    @installation.wait("the device") { @installation.engine(do: "status").dig("device", "state") == "running" }
    words = /The first was not heard for [\d.]+ s, for the audio device was away; it goes on/
    @installation.wait("the alarm") { @installation.api("get", "/api/alarms").last.any? { |alarm| alarm["words"].match?(words) && alarm["seen_at"].nil? } }
    page.assert_text(words)
    expect([deck["playing"]["key"], origin.call]).to eq(["song/first", before])
    @installation.wait("sound") { deck.dig("playing", "peak_dbfs").any? { |level| level > -40 } }
  end

  it "says before it is wanted that the next song cannot be played, and goes on" do
    FileUtils.mv(File.join(@folder, "songs/second/organ.wav"), File.join(@folder, "away.wav"))
    begin_first
    page.assert_text("The second cannot be played next: ")
    page.assert_text("organ.wav")
    found = -> { @installation.api("get", @installation.show).last["findings"].map { |finding| finding["title"] } }
    @installation.wait("the finding") { found.call.include?("The second has lost Organ") }
    FileUtils.mv(File.join(@folder, "away.wav"), File.join(@folder, "songs/second/organ.wav"))
    page.assert_no_text("cannot be played next")
    @installation.wait("it to be mended") { !found.call.include?("The second has lost Organ") }
    expect(deck.dig("playing", "key")).to eq("song/first")
  end
end
