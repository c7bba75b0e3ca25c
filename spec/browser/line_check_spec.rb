# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"
require "support/fingers"
require "support/relay"

# A check with two swapped plugs, led from a phone's page at the stage while the desk's page follows: through
# the simulated stage, desk, card, engine, ring, ear and server.
RSpec.describe "The line check on two pages" do
  include_context "in the browser"

  before(:all) do
    @installation.start("ear")
    @installation.perform(Loomshuttle::Demo.show(Loomshuttle::Demo.mended))
    @hand = Capybara::Session.new(:loom)
    @fingers = Fingers.new(@hand, width: 390, height: 844)
  end

  # Nothing is checked yet, and nothing planted, whatever another example left.
  before do
    [{do: "stop"}, {do: "again", rows: (1..12).map { |n| "list/row/#{n}" }}].each { |wish| @installation.api("post", "#{@installation.show}/linecheck", wish) }
    @installation.wait("the desk") { simulate(do: "unplant").first == 200 }
    simulate(do: "quiet", on: false)
  end

  after(:all) { @hand&.quit }

  attr_reader :hand

  def simulate(**wish) = @installation.api("post", "#{@installation.show}/simulation", wish)
  def check = @installation.api("get", "#{@installation.show}/linecheck").last
  def stands(number) = check["rows"].find { |row| row["number"] == number }["state"]

  # Until it was heard: a busy machine may lose a block of the card in the very middle.
  def tap_until(state, number, by: hand)
    6.times do
      by.click_button("Tap it")
      return @installation.wait("#{number} #{state}", seconds: 15) { stands(number) == state }
    rescue RuntimeError
      next
    end
    raise "#{number} is not #{state}: #{check}"
  end

  it "finds two swapped plugs, has them patched as they are, and is seen by the desk at once" do
    [page, hand].each { |one| one.visit("#{@installation.address}/shows/#{@installation.show_id}/line-check") }
    hand.find("label", text: "The band is silent").click
    # What it played last has come in: nobody's tap.
    page.assert_no_selector("[role=meter]:not([aria-valuenow='-60'])")
    simulate(do: "plant", kind: "swap", row: "list/row/2", other: "list/row/3")
    hand.click_button("Begin the check")
    [page, hand].each { |one| one.assert_selector("[data-testid=turn]", text: "1 Hurdy-gurdy") }
    hand.assert_selector("[data-testid=found]", text: "Listening…")
    tap_until("fine", 1)
    [page, hand].each { |one| one.assert_selector("[data-testid=turn]", text: "2 Cimbalom L") }
    page.assert_text("Before: 1 Hurdy-gurdy. It came in on lane 1, where it belongs.")

    tap_until("wrong", 2)
    [page, hand].each { |one| one.assert_selector("[data-testid=found]", text: "It came in on lane 3. That is the place of 3 Cimbalom R. Plugs 2 and 3 at Box A look swapped.", normalize_ws: true) }
    page.assert_selector("[data-row='list/row/2'][data-state=wrong]", text: "to mend")
    expect([@fingers.beyond, @fingers.small]).to eq([[], []])
    [page, hand].each { |one| expect(one).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa, :"best-practice") }
    hand.click_button("Gain")
    hand.assert_selector("[aria-label=Gains] [role=listitem]", count: 12)
    expect([@fingers.beyond, @fingers.small]).to eq([[], []])
    expect(hand).to be_axe_clean.according_to(:wcag2a, :wcag2aa, :wcag21aa, :wcag22aa, :"best-practice")
    hand.click_button("Check")
    hand.click_button("Plan it on lane 3")
    [page, hand].each { |one| one.assert_selector("[data-testid=found]", text: "Its patch was changed since it was proved.") }
    @installation.wait("the desk") { @installation.api("get", "#{@installation.show}/desk").last["count"] == 0 }
    tap_until("fine", 2)
    tap_until("fine", 3)
    page.assert_text("3 proved · 9 open")
    # One edit, undone as one; what was proved about the plugs as they are is open again.
    hand.click_button("Undo")
    page.assert_text("1 proved · 11 open")
  end

  it "says that nothing arrived with what to look at first, skips, and says so when the ear is gone" do
    simulate(do: "quiet", on: true)
    hand.visit("#{@installation.address}/shows/#{@installation.show_id}/line-check")
    hand.find("[data-row='list/row/5'] button").click
    hand.click_button("Begin the check")
    hand.assert_selector("[data-testid=turn]", text: "5 Kick")
    hand.click_button("I tapped it: nothing arrived")
    hand.assert_selector("[data-testid=found]", text: /Nothing arrived\.\s*The plan's way is whole, from Box A socket 5 to lane 5: look at the cable/)
    hand.click_button("Leave it, go on")
    hand.assert_selector("[data-testid=turn]", text: "6 Snare")
    hand.assert_selector("[data-row='list/row/5']", text: "to mend")
    hand.click_button("Skip")
    hand.assert_selector("[data-row='list/row/6']", text: "skipped")
    @installation.kill("ear")
    hand.assert_selector("[role=alert]", text: "The ear does not answer: nothing that is tapped is heard.")
    @installation.start("ear")
    hand.assert_selector("[data-testid=found]", text: "Listening…")
    hand.assert_no_text("The ear does not answer")
  end

  it "plants a fault for somebody to find, and shows it afterwards" do
    hand.visit("#{@installation.address}/shows/#{@installation.show_id}/line-check")
    hand.click_button("Hide a fault")
    hand.click_button("Show what is planted (1)")
    hand.click_button("Put it right")
    hand.assert_no_selector("button", text: /what is planted/)
    expect(@installation.api("get", "#{@installation.show}/simulation").last["planted"]).to eq([])
  end

  it "goes on while the phone is out of range, and what it asked for on an old page does nothing to another's turn" do
    relay = Relay.new(@installation.services.ports["http"])
    away = another_browser(:device).tap { |session| Fingers.new(session, width: 390, height: 844) }
    simulate(do: "quiet", on: true)
    page.visit("#{@installation.address}/shows/#{@installation.show_id}/line-check")
    away.visit("#{relay.address}/shows/#{@installation.show_id}/line-check")
    away.click_button("Begin the check")
    [page, away].each { |one| one.assert_selector("[data-testid=turn]", text: "1 Hurdy-gurdy") }
    relay.out_of_range do
      away.click_button("I tapped it: nothing arrived")
      # It says so where it is, and goes on showing what it knew.
      away.assert_text("The server does not answer.")
      away.assert_selector("[data-testid=turn]", text: "1 Hurdy-gurdy")
      page.assert_selector("[data-testid=found]", text: "Listening…")
      tap_until("fine", 1, by: page)
      page.assert_selector("[data-testid=turn]", text: "2 Cimbalom L")
    end
    away.assert_selector("[data-testid=turn]", text: "2 Cimbalom L")
    away.assert_no_text("The server does not answer.")
    away.assert_text("Before: 1 Hurdy-gurdy. It came in on lane 1, where it belongs.")
    expect([stands(1), stands(2)]).to eq(%w[fine open])
    away.click_button("I tapped it: nothing arrived")
    page.assert_selector("[data-testid=found]", text: "Nothing arrived.")
  ensure
    relay&.close
  end
end
