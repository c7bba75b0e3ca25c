# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"

# A night in short, through the real interface, server, engine, deck and stand-in.
RSpec.describe "Recording a night" do
  include_context "in the browser"

  before { visit(page, "capture") }

  after do
    @installation.api("post", "/api/playing/stop", {})
    @installation.api("post", "/api/capture/stop", {})
    @installation.wait("the end of the take") { status["recording"].nil? }
    keys = @installation.api("get", "/api/alarms").last.map { |alarm| alarm["key"] }
    @installation.api("post", "/api/alarms/seen", {keys: keys})
  end

  def status = @installation.engine(do: "status")
  def takes = @installation.api("get", "#{@installation.show}/takes").last["takes"]

  # At least so many seconds of the take; a page that is busy for a second may leave out a figure.
  def seconds(count)
    @installation.wait("#{count} s of the take") do
      hours, minutes, seconds = page.find("header").text[/take \d+, (\d\d:\d\d:\d\d)/, 1]&.split(":")&.map(&:to_i)
      seconds && ((hours * 60) + minutes) * 60 + seconds >= count
    end
  end

  def start
    page.click_button("Start the take")
    page.assert_selector("[data-testid=capture-state]", text: /● take \d+/)
  end

  def hold_to_stop
    button = page.find("button", text: "Hold to stop")
    page.driver.browser.action.click_and_hold(button.native).perform
    page.assert_no_selector("button", text: "Hold to stop")
    page.driver.browser.action.release.perform
  end

  it "arms while it records, marks by key, is stopped by keyboard alone, and is listened to afterwards" do
    start
    seconds(1)
    page.find("body").send_keys("m")
    @installation.wait("the mark") { status.dig("recording", "marks") == 1 }
    page.find("input[aria-label='Arm Tuba']", visible: :all).click
    @installation.wait("one track less") { status.dig("recording", "tracks") == 9 }
    seconds(3)
    page.find("input[aria-label='Arm Tuba']", visible: :all).click
    @installation.wait("all tracks again") { status.dig("recording", "tracks") == 10 }
    seconds(5)
    # No stray key does anything.
    page.find("body").send_keys("s", " ", :enter, "q")
    expect(status["recording"]).not_to be_nil
    button = page.find("button", text: "Hold to stop").native
    button.send_keys(:space)
    expect(status["recording"]).not_to be_nil
    page.driver.browser.action.move_to(button).key_down(button, :space).perform
    page.assert_no_selector("button", text: "Hold to stop")
    page.driver.browser.action.key_up(:space).perform
    page.click_button("Takes")
    page.assert_text("nothing lost")
    page.fill_in("Mark 1", with: "Low tide waltz\n")
    @installation.wait("the mark's name") { takes.first["marks"].first["label"] == "Low tide waltz" }
    page.fill_in("Name", with: "Second evening\n")
    page.assert_selector("[aria-label=Takes]", text: "Second evening")
    expect(takes.first["files"].count { |file| file["track"] == "rec/track/4" }).to eq(2)
    page.click_button("Check the files")
    page.assert_text("11 files: length, header and checksum are as they were written")
    page.click_button("Listen to Tuba")
    @installation.wait("the sound") { page.evaluate_script("document.querySelector('audio')?.readyState") == 4 }
    expect(page.evaluate_script("document.querySelector('audio').duration")).to be_within(0.1).of(takes.first["frames"] / 48_000.0)
    page.fill_in("Name of this track; its files follow", with: "Bass horn\n")
    page.assert_selector("button", text: "04 Bass horn")
    expect(takes.first["files"].map { |file| file["file"] }).to include("04 Bass horn.wav", "04 Bass horn - part 2.wav")
    page.click_button("Listen to a rough mix")
    @installation.wait("the mix") { page.evaluate_script("document.querySelector('audio')?.currentTime").to_f > 0.2 }
  end

  it "says on every page that a take broke off when the engine was killed, until somebody has seen it; and it goes on" do
    start
    seconds(3)
    @installation.kill("engine")
    page.assert_text("The audio engine does not answer")
    page.assert_selector("[data-testid=capture-state]", text: /recording when last heard, \d+ s ago/)
    page.assert_no_text("not capturing")
    @installation.start_process("engine")
    page.assert_no_text("The audio engine does not answer")
    page.assert_selector("[data-alarm]", text: /Take \d+ broke off at 00:00:\d\d: the engine was ended in the middle of it/)
    page.assert_selector("[data-testid=capture-state]", text: /● take \d+/)
    page.assert_selector("[data-alarm]", text: /It went on by itself; [\d.]+ s are missing/)
    %w[rig patch soundcheck].each do |step|
      visit(page, step)
      page.assert_selector("[data-alarm]", text: /broke off/)
    end
    visit(page, "capture")
    hold_to_stop
    page.all("[data-alarm]").size.times { page.first("[data-alarm]").click_button("Seen") || true }
    page.assert_no_selector("[data-alarm]")
    visit(page, "capture")
    page.assert_no_selector("[data-alarm]")
    expect(@installation.api("get", "/api/alarms").last.first).to include("seen_by" => "an engineer")
    expect(takes.first).to include("state" => "closed", "breaks" => [include("gap_frames" => be > 0)])
  end

  it "goes on in the same take when the desk was lost and is back" do
    start
    seconds(2)
    @installation.kill("standin")
    page.assert_text("The engine has lost its audio device")
    page.assert_selector("[data-testid=capture-state]", text: /broken off, waits/)
    @installation.start_process("standin")
    page.assert_selector("[data-testid=capture-state]", text: /● take \d+/)
    page.assert_selector("[data-alarm]", text: /the device went away/)
  end

  it "says on each page what works without the desk's control line, and takes its absence for no fault when told so" do
    page.assert_no_text("control line")
    @installation.kill("standin")
    go("Soundcheck")
    page.assert_text("The desk's control line does not answer. Takes play without it.")
    expect(@installation.api("get", @installation.show).first).to eq(200)
    page.click_button("This desk has none")
    page.assert_text("This desk has no control line. Takes play without it.")
    page.assert_selector("header", text: "no desk line")
    go("Patch")
    page.assert_text("set it at the desk by hand, from the sheets on Paper")
    page.click_button("no desk line")
    page.assert_text(/This desk has no control line: set it by hand|What the desk has is not known/)
    page.click_button("It has one")
    page.click_button("Close")
    page.assert_selector("header", text: "desk ✕")
    @installation.start_process("standin")
    page.assert_no_text("control line")
    page.assert_text("engine ✓")
  end

  it "names tracks where they are recorded, also while they are, and records the main mix in one step" do
    page.fill_in("Name of track 4", with: "Bass horn\n")
    page.click_button("How it records")
    page.click_button("Record the main mix on two spare lanes")
    page.assert_text("Main L and Main R are patched to two lanes and armed")
    page.click_button("Done")
    start
    seconds(2)
    page.fill_in("Name of track 5", with: "Big drum\n")
    # Written over and left again: the old name stays.
    page.fill_in("Name of track 6", with: "Nonsense")
    page.find_field("Name of track 6").send_keys(:escape)
    seconds(3)
    hold_to_stop
    files = @installation.wait("the files' names") { takes.first["files"].map { |file| file["file"] }.then { |names| names if names.include?("05 Big drum.wav") } }
    expect(files).to include("04 Bass horn.wav", "06 Snare.wav", "25 Main.wav").or include("04 Bass horn.wav", "06 Snare.wav", "25 Main L.wav", "26 Main R.wav")
  ensure
    # The other examples have the show as it was.
    @installation.perform(planted)
  end

  it "keeps what was known, marked as old, while the server is away" do
    start
    seconds(2)
    @installation.kill("server")
    page.assert_text("The server does not answer")
    page.assert_selector("[data-testid=capture-state]", text: /recording when last heard, [1-9]\d* s ago, about 00:00:\d\d/)
    page.assert_selector("[data-testid=elapsed]", text: /≈00:00/)
    @installation.start("server")
    page.assert_no_text("The server does not answer")
    page.assert_selector("[data-testid=capture-state]", text: /● take \d+/)
    hold_to_stop
    @installation.wait("the take") { takes.first["state"] == "closed" }
  end

  it "asks before something is done that would hurt the take, and leaves the rest free" do
    start
    visit(page, "soundcheck")
    page.click_button("Swing to the recorder")
    page.assert_selector("[role=dialog]", text: /Take \d+ runs. This would turn the desk's feed/)
    page.click_button("Leave it")
    page.assert_selector("header[data-feed=stage]")
    version = @installation.api("get", @installation.show).last["version"]
    expect(@installation.api("post", "#{@installation.show}/edits", {version: version, edit: {kind: "power", sockets: ["box-a/mic/5"]}}).first).to eq(200)
    expect(@installation.api("post", "#{@installation.show}/on-air", {direction: "send"}).last["error"]["message"]).to include("stop it first")
    visit(page, "capture")
    hold_to_stop
    @installation.wait("the change in the take") { takes.first["patches"].any? { |patch| patch["words"].include?("phantom power") } }
  end

  it "keeps how takes are recorded, and records so" do
    page.click_button("How it records")
    page.fill_in("Seconds from before Record was pressed", with: "0\n")
    page.find("label", text: "Both sides of a pair into one stereo file").click
    page.click_button("Done")
    @installation.wait("the setting") { @installation.api("get", "#{@installation.show}/session").last.values_at("preroll_s", "stereo") == [0, false] }
    start
    seconds(1)
    hold_to_stop
    expect(takes.first["files"].map { |file| file["file"] }.uniq.size).to eq(12)
  ensure
    @installation.api("put", "#{@installation.show}/session", {preroll_s: 30, stereo: true})
  end

  it "passes the accessibility check, tracks and takes, in both themes" do
    %w[night linen].each do |theme|
      ["Tracks now", "Takes"].each do |face|
        page.click_button(face)
        expect_accessible(theme)
      end
    end
  end
end
