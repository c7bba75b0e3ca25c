# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/fingers"
require_relative "../../demo/stems"

# A song run by keys on the stage view while a phone follows: real deck, engine and desk.
RSpec.describe "The stage view" do
  include_context "in the browser"

  before(:all) do
    Loomshuttle::Demo::Stems.write(File.join(@folder, "songs"))
    @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
  end

  after { @installation.api("post", "/api/playing/stop", {}) }

  def stage(session = page) = session.visit("#{@installation.address}/shows/#{@installation.show_id}/stage")
  def playing = @installation.deck(do: "status")["playing"]

  it "counts in, tells section, bar and beat as they sound, goes round a section until it is let go, and a phone follows" do
    stage
    page.assert_selector("[data-testid=section]", text: "Ready")
    phone = Capybara::Session.new(:loom)
    fingers = Fingers.new(phone, width: 390, height: 844)
    stage(phone)
    phone.assert_selector("h1", text: "Low tide waltz")
    page.find("body").send_keys(:space)
    [page, phone].each { |session| session.assert_selector("[data-testid=section]", text: /Count-in|Ebb/) }
    [page, phone].each { |session| session.assert_selector("[data-testid=section]", text: "Ebb") }
    # What is told is what the deck plays: bar 1 begins a bar of 100 bpm behind the beginning.
    place = @installation.wait("a bar") { playing.then { |one| one if one["place"][0] >= 1 } }
    expect(place["place"][0]).to eq((place["position_frames"] - 115_200) / 115_200 + 1)
    # Decided here, let go there: three bars are left until it would be made.
    page.find("body").send_keys("3")
    [page, phone].each { |session| session.assert_text("armed: Flood") }
    phone.click_button("Let the jump go")
    [page, phone].each { |session| session.assert_no_text("armed: Flood") }
    page.find("body").send_keys("r")
    [page, phone].each { |session| session.assert_text("Ebb goes round until it is let go") }
    expect(@installation.wait("the loop") { playing["loop"] }).to eq([115_200, 115_200 * 4])
    page.click_button("Levels of the roles")
    page.assert_selector("[role=meter][aria-label$='of organ']:not([aria-valuenow='-60'])")
    page.click_button("Close the levels")
    # Space on a stage where something plays begins nothing again.
    before = playing["position_frames"]
    page.find("body").send_keys(:space)
    page.find("body").send_keys("r")
    [page, phone].each { |session| session.assert_no_text("goes round") }
    expect(playing["position_frames"]).to be > before
    [page, phone].each { |session| session.assert_selector("[data-testid=section]", text: "Turning") }
    page.click_button("the bar")
    page.find("body").send_keys("1")
    [page, phone].each { |session| session.assert_selector("[data-testid=section]", text: "Ebb") }
    expect([fingers.beyond, fingers.small]).to eq([[], []])
    expect(page).to be_axe_clean.according_to(:wcag2a, :wcag2aa)
  ensure
    phone&.quit
  end

  # Bars of 100 bpm have 115,200 frames, at 120 % 96,000.
  it "goes over to another tempo at the section's end, there to the frame, and keeps it where that is let go" do
    task = @installation.api("post", "/api/library/songs/low-tide-waltz/tempi", {percent: 120}).last["task"]
    @installation.wait("the tempo") { @installation.api("get", "/api/tasks/#{task}").last["state"] == "done" }
    @installation.wait("silence") { playing.nil? }
    stage
    page.assert_selector("[data-testid=section]", text: "Ready")
    page.click_button("Go (Space)")
    page.assert_selector("[data-testid=section]", text: "Ebb")
    tempo = -> { page.find("[role=combobox]", text: /its own|120 %/) }
    choose = ->(words) { tempo.call.click && page.find("li[role=option]", text: words).click }
    choose["120 %"]
    page.assert_text("armed: 120 % from Turning")
    page.click_button("Keep the tempo")
    page.assert_no_text("armed: 120 % from Turning")
    choose["120 %"]
    page.assert_text("armed: 120 % from Turning")
    page.assert_selector("[data-testid=section]", text: "Turning")
    place = @installation.wait("a place at the other tempo") { playing.then { |one| one if one["percent"] == 120 && one["place"][0] > 4 } }
    expect([place["place"][0], place["armed"]]).to eq([(place["position_frames"] - 96_000) / 96_000 + 1, nil])
    # A deck that dies goes on at that tempo.
    @installation.kill("deck")
    @installation.start_process("deck")
    page.assert_selector("[role=combobox]", text: "120 %")
    after = @installation.wait("the deck again") { playing.then { |one| one if one && one["position_frames"] > place["position_frames"] } }
    expect([after["percent"], after["place"][0]]).to eq([120, (after["position_frames"] - 96_000) / 96_000 + 1])
  end

  it "stops only when it is held, and is ready again" do
    stage
    page.click_button("Go (Space)")
    page.assert_selector("[data-testid=section]", text: /Count-in|Ebb/)
    hold = page.find_button("Stop (hold)")
    hold.click
    page.assert_no_selector("[data-testid=section]", text: "Ready", wait: 1)
    page.driver.browser.action.click_and_hold(hold.native).perform
    page.assert_selector("[data-testid=section]", text: "Ready")
    page.driver.browser.action.release.perform
    expect(playing).to be_nil
  end

  it "says on the page when a song cannot be played" do
    FileUtils.mv(File.join(@folder, "songs/low-tide-waltz/tide drum.wav"), File.join(@folder, "away.wav"))
    stage
    page.click_button("Go (Space)")
    page.assert_text("tide drum.wav")
    page.assert_selector("[data-testid=section]", text: "Ready")
  ensure
    FileUtils.mv(File.join(@folder, "away.wav"), File.join(@folder, "songs/low-tide-waltz/tide drum.wav"))
  end
end
