# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"

# What is done at the loom in one act, and who is told what, through the real interface and server.
RSpec.describe "At the loom" do
  include_context "in the browser"

  before { begin_with(show) }

  def begin_with(one)
    @installation.perform(one)
    visit(page, "patch")
    page.assert_selector("[data-knot]", visible: :all)
  end

  def other = @other ||= another_browser.tap { |session| Browser.exact_size(session) }
  def server_show = @installation.api("get", @installation.show).last
  def loom = page.find("svg[role=application]")
  def knot(id) = page.find("[data-knot='#{id}']", visible: :all)
  def strand(from, to) = page.assert_selector("[data-strand='#{from}>#{to}']", visible: :all)
  def sentence(text) = page.assert_selector("[data-testid=sentence]", text: text)
  def undo(label) = page.assert_selector("span[title='Undo: #{label}']")
  def keys(*some) = some.each { |key| loom.send_keys(key) }

  it "lays a run of any length in one act, by keys and by the field of what is held; undo names it" do
    knot("box-a/mic/1").hover
    keys(:enter, "r", "1", "2")
    page.assert_selector("[data-testid=hold]", text: "run of 12")
    keys(:right, "1", "7")
    sentence("would change")
    keys(:enter)
    strand("box-a/mic/12", "desk/channel/28")
    undo("Lay 12 from Box A socket 1 on channel 17 onward")
    page.click_button("Undo")
    page.assert_no_selector("[data-strand='box-a/mic/12>desk/channel/28']", visible: :all)
    page.click_button("Unfold all")
    knot("list/row/1").click
    page.click_button("To the end")
    knot("desk/mic/9").click
    strand("list/row/12", "desk/mic/20")
    undo("Lay all from Hurdy-gurdy on local socket 9 onward")
  end

  it "moves a block by its bracket: two change places, and a source is taken by all of it" do
    bracket = ->(first) { page.find("[data-bracket='#{first}']", visible: :all).native }
    label = ->(first) { page.find("[data-bracket='#{first}'] rect", visible: :all).native }
    strand("box-a/mic/1", "desk/card-send/1")
    page.driver.browser.action.move_to(label["desk/card-send/1"]).click_and_hold.move_to(label["desk/card-send/25"]).perform
    page.assert_selector("[data-testid=hold]", text: "Holding the block Box A socket 1–8")
    sentence("would change")
    page.driver.browser.action.release.perform
    strand("box-a/mic/1", "desk/card-send/25")
    undo("Swap card lane 1–8 with card lane 25–32")
    page.click_button("Undo")
    strand("box-a/mic/1", "desk/card-send/1")
    page.driver.browser.action.move_to(bracket["desk/channel/1"]).perform
    knot("desk/channel/3").hover
    keys("b")
    page.assert_selector("[data-testid=hold]", text: "the block")
    knot("box-a/mic/11").hover
    keys(:enter)
    strand("box-a/mic/9", "desk/channel/1")
    undo("Lay Box A socket 9–16 on channel 1–8")
  end

  it "reaches what is folded by digits, by arrows and at once; rows and what carries something do not fold" do
    rows = (13..40).to_h { |n| ["list/row/r#{n}", {name: "Source #{n}"}] }
    begin_with(edit("rows", rows: rows).apply(show))
    knot("list/row/r40")
    page.assert_selector("[data-unfold]", minimum: 3)
    page.assert_no_selector("[data-knot='rec/track/40']", visible: :all)
    knot("rec/track/1").hover
    keys("4", "0")
    page.assert_selector("[data-knot='rec/track/40']", visible: :all)
    page.assert_selector("svg[aria-activedescendant='knot-rec/track/40']")
    knot("desk/card-send/1").hover
    keys("3", "2", :down)
    page.assert_selector("svg[aria-activedescendant='fold lane']")
    keys(:enter)
    page.assert_no_selector("[data-unfold=lane]")
    keys("u")
    page.assert_no_selector("[data-unfold]")
    page.click_button("Fold unused")
    page.assert_selector("[data-unfold]", minimum: 3)
    page.click_button("Unfold all")
    page.assert_no_selector("[data-unfold]")
  end

  it "refuses in the words of what is held, and goes the way out where there is one" do
    knot("box-a/mic/9").click
    knot("desk/channel/7").hover
    sentence("Box A socket 9 cannot be laid on channel 7 as it is.")
    page.click_button("Open channel 1–8 to single choices, and lay it")
    strand("box-a/mic/9", "desk/channel/7")
    strand("box-a/mic/8", "desk/channel/8")
    undo("Open channel 1–8 to single choices, and lay it")
    page.find("body").send_keys(:escape)
    page.click_button("Undo")
    page.assert_no_selector("[data-strand='box-a/mic/9>desk/channel/7']", visible: :all)
    knot("box-a/mic/10").click
    knot("desk/channel/7").click
    page.within("[role=alert]") { page.click_button("Open channel 1–8 to single choices, and lay it") }
    strand("box-a/mic/10", "desk/channel/7")
  end

  it "prints a mix on a lane and lays one on a far socket, each in one act" do
    knot("desk/main/1").click
    knot("desk/card-send/29").hover
    sentence("would change")
    knot("desk/card-send/29").click
    strand("desk/main/1", "desk/card-send/29")
    go("Outputs")
    page.click_button("Unfold all")
    knot("desk/bus/9").click
    knot("box-a/out-socket/5").click
    page.assert_selector("[data-strand$='>box-a/out-socket/5']", visible: :all)
    undo("Lay bus 9 on Box A out 5")
  end

  it "lets go of gear that somebody else takes out, and says who" do
    knot("box-a/mic/5").click
    page.assert_selector("[data-testid=hold]", text: "Holding Box A socket 5")
    @installation.api("post", "#{@installation.show}/edits", {version: server_show["version"], label: "Take out Box A", edit: {kind: "remove_device", id: "box-a"}},
      "x-client" => "tablet", "x-who" => "Ilse")
    page.assert_selector("[role=alert]", text: "Box A socket 5 is there no more, so it was let go. Ilse: \"Take out Box A\".")
    page.assert_no_selector("[data-testid=hold]")
  end

  it "names a row, a channel, a track, a bus where they are seen; a place that is given no name has its own again" do
    name = ->(id, text) {
      knot(id).hover
      keys(:f2)
      page.find("input:focus").send_keys([:control, "a"], :backspace, text, :enter)
    }
    name["list/row/5", "Big drum"]
    page.assert_selector("[data-knot='rec/track/5'][aria-label$='Big drum']", visible: :all)
    name["desk/channel/5", "Drum, close"]
    page.assert_selector("[data-knot='desk/channel/5'][aria-label$='Drum, close (channel 5)']", visible: :all)
    knot("rec/track/6").double_click
    page.find("input:focus").send_keys([:control, "a"], "Rim", :enter)
    page.assert_selector("[data-knot='rec/track/6'][aria-label$='Rim']", visible: :all)
    expect(server_show["tracks"][5]["name"]).to eq("Rim")
    name["desk/channel/5", ""]
    page.assert_selector("[data-knot='desk/channel/5'][aria-label$='channel 5']", visible: :all)
    page.click_button("Mixes")
    name["desk/bus/9", "Lamp room"]
    page.assert_selector("[data-knot='desk/bus/9'][aria-label$='Lamp room (bus 9)']", visible: :all)
  end

  describe "two people at one list" do
    before do
      page.click_button("Input list")
      visit(other, "patch")
      other.click_button("Input list")
    end

    def write(session, row, text, start: nil)
      session.find("#cell-#{row}-1").double_click unless start
      session.find("input[aria-label='Source']").send_keys([:control, "a"], text, :enter)
    end

    it "tells who comes second at a cell who was first, and asks before that is written over" do
      page.find("#cell-2-1").double_click
      page.find("input[aria-label='Source']").send_keys([:control, "a"], "Snare A")
      write(other, 2, "Snare B")
      other.assert_selector("#cell-2-1", text: "Snare B")
      @installation.wait("the other's name") { server_show["rows"][2]["name"] == "Snare B" }
      page.find("input[aria-label='Source']").send_keys(:enter)
      page.assert_selector("[role=dialog]", text: /Somebody else was here.*The same was changed meanwhile: "Source of/m)
      page.assert_selector("#cell-2-1", text: "Snare B", visible: :all)
      page.click_button("Write mine all the same")
      other.assert_selector("#cell-2-1", text: "Snare A")
    end

    it "keeps what was typed while the server is away, tells it, and has it kept when it is back, over nobody's head" do
      @installation.kill("server")
      page.assert_text("The server does not answer")
      write(page, 7, "Typed in the dark")
      write(page, 8, "And another")
      page.assert_selector("[aria-label='Not kept yet']", text: /2 changes are not kept yet: .*Typed in the dark.*And another/)
      expect(page.find_button("Keep them now", disabled: true)).to be_disabled
      @installation.start("server")
      other.assert_no_text("The server does not answer")
      write(other, 8, "Hers")
      @installation.wait("hers") { server_show["rows"][8]["name"] == "Hers" }
      page.assert_no_text("The server does not answer")
      # A page that is loaded anew has it still.
      page.refresh
      page.click_button("Keep them now")
      page.assert_selector("[aria-label='Not kept yet']", text: /One change is not kept yet: .*And another.*The same was changed meanwhile/)
      expect(server_show["rows"].map { |row| row["name"] }).to include("Typed in the dark", "Hers")
      page.click_button("Keep it all the same")
      page.assert_no_selector("[aria-label='Not kept yet']")
      expect(server_show["rows"][8]["name"]).to eq("And another")
    end

    it "goes on in the row that was begun when the other moves it, and says when it was taken out" do
      page.find("#cell-4-1").double_click
      page.find("input[aria-label='Source']").send_keys([:control, "a"], "Drum five")
      other.find("#cell-4-1").click
      other.find("[role=grid]").send_keys(%i[alt up])
      page.assert_selector("#cell-3-1 input[aria-label='Source']")
      page.find("input[aria-label='Source']").send_keys(:enter)
      page.assert_selector("#cell-3-1", text: "Drum five")
      page.find("#cell-6-1").double_click
      other.find("#cell-6-0").click
      other.find("[role=grid]").send_keys(:delete)
      page.assert_selector("[role=alert]", text: "The line that you were writing in was taken out by somebody else.")
    end
  end
end

RSpec.describe "What comes in" do
  include_context "in the browser"

  before do
    @installation.perform(show)
    visit(page, "patch")
  end

  def server_show = @installation.api("get", @installation.show).last

  it "offers pairs from names in one step, and dyes groups" do
    page.click_button("Input list")
    page.find("#cell-12-1").click
    page.execute_script("const data = new DataTransfer(); data.setData('text/plain', arguments[1]); arguments[0].dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}))",
      page.find("[role=grid]"), "Choir L\nChoir R\nTom 1\nTom 2\n")
    page.assert_selector("#cell-15-1", text: "Tom 2")
    page.click_button("Pairs by name: 2")
    expect(page.find("label", text: "Tom 1 and Tom 2").find("input", visible: :all)).not_to be_checked
    page.click_button("Pair them")
    page.assert_selector("#cell-12-12", text: "14")
    page.assert_selector("#cell-14-12", exact_text: "")
    page.find("#cell-12-9").click
    page.find("[role=grid]").send_keys("choir")
    page.find("input[aria-label='Group']").send_keys(:enter)
    page.assert_no_selector("#cell-12-10", text: "walnut")
    colour = page.find("#cell-12-10").text
    page.find("[role=grid]").send_keys("choir")
    page.find("input[aria-label='Group']").send_keys(:enter)
    page.assert_selector("#cell-13-10", text: colour)
  end

  it "writes the show's name and its venue where they stand, and a slot's name in its table" do
    page.find("button", text: "Quayside Hall").click
    page.find("input[aria-label=Venue]").send_keys([:control, "a"], "Harbour stage", :enter)
    page.assert_selector("header button", text: "Harbour stage")
    page.find("header button", text: "Lanterns over Saltmarsh").click
    page.find("input[aria-label='Name of the show']").send_keys([:control, "a"], :backspace, :enter)
    page.assert_selector("header button", text: "Lanterns over Saltmarsh")
    page.click_button("Table")
    page.find("#cell-8-4").click
    page.find("[role=grid]").send_keys("Squeeze")
    page.find("input[aria-label=Name]").send_keys(:enter)
    page.assert_selector("#cell-8-4", text: "Squeeze")
    expect(server_show["venue"]).to eq("Harbour stage")
    page.click_button("Loom")
    page.assert_selector("[data-knot='desk/channel/9'][aria-label$='Squeeze (channel 9)']", visible: :all)
  end
end

RSpec.describe "A swing before it is done" do
  include_context "in the browser"

  def server_show = @installation.api("get", @installation.show).last

  # Nobody records the narrator: on the recorder nothing would be in his place.
  it "names who stays on the stage, turns the others, and is for the show that was looked at" do
    @installation.perform(show.with(tracks: show.tracks.except("rec/track/12").freeze))
    visit(page, "soundcheck")
    page.assert_selector("[data-testid=plan]", text: /[Cc]hannel 12\D.*stage/m)
    seen = server_show["version"]
    page.click_button("Swing to the recorder")
    page.assert_selector("header[data-feed=recorder]")
    expect(server_show["version"]).to eq(seen + 1)
    feeds = server_show["tracks"].to_h { |track| [track["number"], track["feed"]] }
    expect(feeds.values.uniq).to eq(["recorder"])
    expect(@installation.api("get", "#{@installation.show}/why?endpoint=desk/channel/12").last["sentence"]).to include("Narrator")
    page.assert_selector("[data-testid=plan]", text: "stage")
    page.click_button("Swing back to the stage")
    page.assert_selector("header[data-feed=stage]")
  end
end
