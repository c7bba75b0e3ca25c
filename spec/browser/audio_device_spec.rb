# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"

# Which device the recording computer records from, chosen on the rig. "null" is ALSA's own, which
# takes any rate and block; there is none called "nothing".
RSpec.describe "The recording computer's audio device" do
  before(:all) { ENV["LOOMSHUTTLE_ALSA"] = "null,nothing" }

  include_context "in the browser"

  after(:all) { ENV.delete("LOOMSHUTTLE_ALSA") }

  def device = @installation.engine(do: "status")["device"]

  def open_list(name) = page.find(".MuiInputLabel-root", text: name).find(:xpath, "..").find("[role=combobox]").click

  it "says what another one costs, what is broken and what is on its lanes, and opens it only when asked" do
    visit(page, "rig")
    page.find("[data-device='rec']").click
    page.within("section[aria-label='Audio device']") do
      page.assert_text("Open: stand-in desk, 48 kHz, 32 lanes in, 32 out, blocks of 1024")
      page.assert_text("0 frames coming in, 0 going out; 0 blocks played late")
      page.assert_selector("li", text: /lane 4\s+Tuba/)
    end
    open_list("Records from and plays to")
    page.assert_selector("[role=option]", text: "nothing: not usable")
    page.find("[role=option]", text: /\Anull/).click
    open_list("Block")
    page.find("[role=option]", text: "256 frames, 5.3 ms").click
    page.assert_text("That is 64 ms sooner than now, at 4 times as many blocks a second")
    expect(device["name"]).to eq("stand-in desk")
    page.click_button("Leave it")
    page.assert_no_text("sooner than now")
  end

  it "asks before it breaks a take off, and says on every page that a device is not there" do
    visit(page, "capture")
    page.click_button("Start the take")
    page.assert_selector("[data-testid=capture-state]", text: /● take \d+/)
    go("Rig")
    page.find("[data-device='rec']").click
    open_list("Records from and plays to")
    page.find("[role=option]", text: "nothing: not usable").click
    page.click_button("Open it")
    page.within("[role=dialog]") do
      page.assert_text(/Take \d+ runs. Another device, rate or buffer would break it off./)
      page.click_button("Leave it")
    end
    expect(device["state"]).to eq("running")
    @installation.api("post", "/api/capture/stop", {})
    page.click_button("Open it")
    page.assert_text(/ALSA nothing: lost/)
    open_list("Records from and plays to")
    page.find("[role=option]", text: "The simulated desk's card").click
    page.click_button("Open it")
    page.assert_text("Open: stand-in desk, 48 kHz")
    @installation.wait("the desk's card") { device["state"] == "running" }
    expect_accessible("night")
  end
end
