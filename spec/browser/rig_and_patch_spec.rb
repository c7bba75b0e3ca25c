# frozen_string_literal: true

require "core_helper"
require "support/in_the_browser"

# Rig and Patch through the real interface, server, engine and stand-in.
RSpec.describe "Rig and patch" do
  include_context "in the browser"

  # Each example begins with the demo without its planted mistakes.
  before do
    @installation.perform(show)
    visit(page)
  end

  def other = @other ||= another_browser.tap { |session| Browser.exact_size(session) }
  def server_show = @installation.api("get", @installation.show).last
  def row(number) = server_show["rows"].find { |one| one["number"] == number }
  def desk = @desk ||= UDPSocket.new.tap { |socket| socket.connect("127.0.0.1", @installation.services.ports["osc"]) }

  # A field of MUI's: found by its label's text.
  def pick(label, option)
    page.find(".MuiInputLabel-root", text: label).find(:xpath, "..").find("[role=combobox]").click
    page.find("[role=option]", text: option, match: :prefer_exact).click
  end

  describe "the rig" do
    it "adds gear, lays a cable by the keyboard's form, and says beforehand what it would do" do
      page.click_button("Add gear")
      pick("What it is", "stage box 16x8")
      page.fill_in("What you call it", with: "Box B")
      page.click_button("Add it")
      page.assert_selector("[data-device='box-b']")
      page.click_button("Clock, rate, cables")
      pick("From port", "Box B, AES50")
      pick("To port", "Box A, chain")
      page.assert_selector("[data-testid=sentence]", text: "AES50, 48 lanes each way at 48 kHz. Box B's sockets arrive on AES50 A lane 17–32.")
      page.click_button("Lay this cable")
      page.find("[data-device='box-b']").click
      pick("Clock", "follows through AES50")
      page.assert_text("Clock: Box B ← Box A ← Quay desk")
      # The panel has the findings' room, so that it covers no card; they are back when it is closed.
      page.assert_no_selector("aside[aria-label=Findings]")
      expect(page.evaluate_script("[...document.querySelectorAll('.react-flow__node')].every((card) => card.getBoundingClientRect().right <= document.querySelector('section[aria-label=Settings]').getBoundingClientRect().left)")).to be(true)
      page.click_button("Close settings")
      page.within("[data-rule='chain']") { page.click_button("Mend: let Box B's outputs begin behind lane 8") }
      page.assert_text("1 worth knowing")
    end

    it "opens a card's settings by the keyboard, says so in words of its own, and shows what is reached" do
      card = page.find(".react-flow__node[data-id='box-a']")
      card.send_keys(:enter)
      page.assert_selector("section[aria-label='Settings']", text: "Box A")
      described = page.evaluate_script("document.getElementById(document.querySelector(\".react-flow__node[data-id='box-a']\").getAttribute('aria-describedby')).textContent")
      expect(described).to eq("Enter opens its settings.")
      expect(page.evaluate_script("getComputedStyle(document.querySelector(\".react-flow__node[data-id='box-a']\")).outlineStyle")).to eq("solid")
    end

    it "shows the sheet of keys by ? as a keyboard types it, and by a button" do
      page.find("body").send_keys("?")
      page.assert_selector("[role=dialog]", text: "undo what you did in this browser")
      page.find("[role=dialog]").send_keys(:escape)
      page.assert_no_selector("[role=dialog]")
      page.within("nav") { page.click_button("Keys") }
      page.assert_selector("[role=dialog]", text: "undo what you did in this browser")
      page.find("[role=dialog]").send_keys(:escape)
    end

    it "folds the findings to a rail with counts, and remembers it" do
      page.click_button("Close findings")
      expect(page.find("button[aria-label^='Findings:']")[:"aria-label"]).to match(/\AFindings: \d+ stop, \d+ likely a mistake, \d+ worth knowing\z/)
      visit(page, "patch", anew: true)
      page.assert_no_selector("aside[aria-label=Findings]")
      page.find("button[aria-label^='Findings:']").click
      page.assert_selector("aside[aria-label=Findings]")
    end

    it "lays a cable by dragging from port to port" do
      @installation.api("post",
        "#{@installation.show}/edits",
        {version: server_show["version"], edit: {kind: "device", id: "box-b", profile: "stage-box-16x8", name: "Box B", clock: "aes50"}})
      page.assert_selector("[data-device='box-b']")
      from, to = %w[box-b/aes50 box-a/chain].map { |port| page.find(".react-flow__handle[data-handleid='#{port}']").native }
      page.driver.browser.action.move_to(from).click_and_hold.move_by(-10, -10).move_to(to).perform
      page.assert_selector("[data-testid=sentence]", text: "Box B's sockets arrive on AES50 A lane 17–32.")
      page.driver.browser.action.release.perform
      page.assert_selector("[aria-label='Cable from Box B, AES50 to Box A, chain']", visible: :all)
    end

    it "shows what 96 kHz would cost before it is chosen, and undoes it" do
      page.click_button("Clock, rate, cables")
      pick("What if it ran at", "96 kHz")
      page.assert_text("Quay desk, card to Logbook, interface: 16 lanes, now 32")
      page.assert_text("role click")
      page.click_button("Run all at 96 kHz")
      page.assert_selector("[data-rule='link-lanes']")
      page.find("body").send_keys([:control, "z"])
      page.assert_no_selector("[data-rule='link-lanes']")
    end

    it "copies a profile, refuses a field that its blocks do not divide, and keeps what is right" do
      page.click_button("Profiles")
      pick("Copy this one", "32-channel desk")
      page.click_button("Copy and change it")
      page.fill_in("card lane: how many", with: "30")
      page.click_button("Keep it")
      page.assert_text("blocks that divide its 30 slots: 1, 2, 3, 5, 6")
      page.fill_in("card lane: how many", with: "24")
      # What was said goes with what it was about, and the button moves up: nobody presses where it was.
      page.assert_no_text("blocks that divide")
      page.click_button("Keep it")
      page.assert_text("Own 32-channel desk")
      page.click_button("Change")
      page.click_button("All of it as data: taps, ports, wires")
      text = page.find_field("Profile as JSON")
      page.execute_script("const field = arguments[0]; Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set.call(field, field.value.replace('\"pre-eq\"', '\"behind-the-moon\"')); field.dispatchEvent(new Event('input', {bubbles: true}))", text)
      page.click_button("Keep it")
      page.assert_text("behind-the-moon")
      page.assert_text("raw, in, pre-eq, post-eq, pre-fader, post-fader")
    end
  end

  describe "the input list as a sheet" do
    before do
      go("Patch")
      page.click_button("Input list")
    end

    def cell(row, column) = page.find("#cell-#{row}-#{column}")
    def sheet = page.find("[role=grid]")

    it "is written by keys alone: arrows, Enter, Tab, new rows, fill down, Delete, undo" do
      cell(0, 1).click
      sheet.send_keys("Nyckelharpa")
      page.find("input[aria-label='Source']").send_keys(:enter)
      page.assert_selector("#cell-0-1", text: "Nyckelharpa")
      sheet.send_keys(:right, :right, :right)
      sheet.send_keys("large condenser")
      page.find("input[aria-label='Mic / DI']").send_keys(:tab)
      page.assert_selector("#cell-1-4", text: "large condenser")
      sheet.send_keys(:left, %i[shift down], %i[shift down], [:control, "d"])
      page.assert_selector("#cell-3-4", text: "large condenser")
      cell(12, 1).click
      sheet.send_keys("Musical saw")
      page.find("input[aria-label='Source']").send_keys(:enter)
      page.assert_selector("#cell-12-0", text: "13")
      page.find("body").send_keys([:control, "z"])
      page.assert_selector("#cell-12-0", exact_text: "")
      expect(row(4)["mic"]).to eq("large condenser")
    end

    it "pastes a block from a spreadsheet, and plugs by name" do
      cell(3, 5).click
      paste("tall\tyes\tlocal socket 4\nshort\tno\tQuay desk 5\n")
      page.assert_selector("#cell-4-7", text: "local socket 5")
      expect([row(4), row(5)].map { |one| one.values_at("stand", "phantom", "socket") }).to eq([%w[tall yes desk/mic/4], %w[short no desk/mic/5]])
      paste("x\tperhaps\t\n")
      page.assert_text("perhaps")
      expect(row(4)["stand"]).to eq("tall")
    end

    it "moves a row with its patch or without" do
      cell(8, 1).click
      sheet.send_keys(%i[alt up])
      page.assert_selector("#cell-7-1", text: "Accordion")
      expect(row(8)["socket"]).to eq("box-a/mic/9")
      page.find("label", text: "The patch follows rows that move").click
      cell(0, 1).click
      sheet.send_keys(%i[alt down])
      page.assert_selector("#cell-0-1", text: "Cimbalom L")
      expect(row(1)["socket"]).to eq("box-a/mic/1")
    end

    it "brings in a CSV file after showing what it would change, and refuses one with faults" do
      bad = File.join(@folder, "bad.csv").tap { |path| File.write(path, "number;name;phantom\n1;Hurdy;perhaps\n") }
      page.attach_file("CSV file", bad, make_visible: true)
      page.assert_text("Read as UTF-8 with semicolons.")
      page.assert_text("Line 2, phantom: \"perhaps\" is not usable; one of yes, no, never")
      expect(page.find_button("Accept 0 changes", disabled: true)).to be_disabled
      page.click_button("Leave it")
      good = File.join(@folder, "good.csv").tap { |path| File.write(path, "number,name\n1,Hurdy\n13,Saw\n") }
      page.attach_file("CSV file", good, make_visible: true)
      # The track follows its row.
      page.assert_text("Track 1 (Hurdy-gurdy): name is Hurdy")
      page.click_button("Accept 3 changes")
      page.assert_selector("#cell-12-1", text: "Saw")
    end

    it "stays smooth with hundreds of rows: only those in sight are drawn" do
      rows = (13..400).to_h { |n| ["list/row/#{n}", {name: "Source #{n}"}] }
      @installation.api("post", "#{@installation.show}/edits", {version: server_show["version"], edit: {kind: "rows", rows: rows}})
      page.assert_selector("[role=grid][aria-rowcount='401']")
      cell(0, 1).click
      20.times { sheet.send_keys(:page_down) }
      page.assert_selector("#cell-300-1", text: "Source 301")
      expect(page.all("[role=grid] [data-row]").size).to be < 60
    end

    # The browser's own clipboard event, with what a spreadsheet puts there.
    def paste(text)
      page.execute_script("const data = new DataTransfer(); data.setData('text/plain', arguments[1]); arguments[0].dispatchEvent(new ClipboardEvent('paste', {clipboardData: data, bubbles: true, cancelable: true}))",
        sheet,
        text)
    end
  end

  describe "runs" do
    it "are shown on the loom before they are laid, and refused with the reason" do
      go("Patch")
      page.click_button("Many at once")
      page.assert_selector("[data-ghost='box-a/mic/1>desk/channel/9']", visible: :all)
      page.assert_selector("[data-testid=sentence]", text: "16 places would change")
      page.fill_in("By", with: "3")
      page.assert_selector("[data-testid=sentence]", text: "patched as one block")
      page.fill_in("By", with: "8")
      page.assert_selector("[data-ghost='box-a/mic/1>desk/channel/9']", visible: :all)
      page.click_button("Do it")
      page.assert_selector("[data-strand='box-a/mic/1>desk/channel/9']", visible: :all)
      page.click_button("Undo")
      page.assert_selector("[data-strand='box-a/mic/1>desk/channel/1']", visible: :all)
    end
  end

  describe "runs of other kinds" do
    before { go("Patch") }

    def lay(kind)
      page.click_button("Many at once")
      pick("Do", kind)
      yield if block_given?
      page.click_button("Do it")
    end

    it "free slots, from the block that was pointed at last" do
      page.find("[data-knot='desk/channel/9']").hover
      lay("Clear these slots") do
        page.assert_selector("[data-testid=sentence]", text: "8 places would change: Channel 9–16 take nothing, before: Box A socket 9–16, raw.")
      end
      page.assert_no_selector("[data-strand='box-a/mic/9>desk/channel/9']", visible: :all)
    end

    it "spread rows that are not plugged in over chosen boxes" do
      @installation.api("post",
        "#{@installation.show}/edits",
        {version: server_show["version"], edit: {kind: "group", edits: [1, 2].map { |n| {kind: "plug", row: "list/row/#{n}", socket: nil} }}})
      page.assert_selector("[data-rule='unpatched']")
      lay("Plug the list in, box by box") do
        page.find("label", text: "Only rows that are not plugged in").click
        page.assert_selector("[data-testid=sentence]", text: "2 places would change")
      end
      page.assert_no_selector("[data-rule='unpatched']")
    end

    it "make tracks of what arrives" do
      page.assert_selector("[data-strand='desk/card-send/9>rec/track/9']", visible: :all)
      bare = show.with(tracks: show.tracks.except("rec/track/9").freeze)
      @installation.perform(bare)
      visit(page, "patch")
      page.assert_selector("[data-knot='rec/track/9'][aria-label$='track 9']", visible: :all)
      lay("Make tracks of what arrives")
      page.assert_selector("[data-knot='rec/track/9'][aria-label$='Accordion']", visible: :all)
    end
  end

  describe "the loom" do
    it "is worked by the keyboard alone, and answers why nothing is on a place, with the mend" do
      @installation.perform(planted)
      visit(page, "patch")
      page.assert_selector("[data-fray]")
      loom = page.find("svg[aria-label='Patch loom']")
      page.execute_script("arguments[0].focus()", loom)
      loom.send_keys(:left, :left, :left, :left, :left, :right, :right, :right, :right, "9")
      page.assert_selector("[data-testid=sentence]", text: "Track 9 gets nothing: card lane 9 takes local socket 9, where nothing is plugged in.")
      page.within("[data-testid=sentence]") { page.click_button("Mend: take Box A socket 9–12") }
      page.assert_no_selector("[data-fray]")
    end

    # U1: a drop on a block lays eight channels; U2: a thread stayed in the hand.
    it "shows all that a drop would change before it is let go, and lets go of a drag that ends nowhere, or by Escape anywhere" do
      go("Patch")
      from, to = %w[box-a/mic/9 desk/channel/1].map { |knot| page.find("[data-knot='#{knot}']").native }
      mouse = page.driver.browser.action
      mouse.move_to(from).click_and_hold.move_by(10, 5).move_to(to).perform
      page.assert_selector("[data-testid=sentence]", text: "8 places would change")
      before = server_show["version"]
      page.driver.browser.action.move_to(page.find("h2", text: "Patch").native).release.perform
      page.assert_no_text("Holding")
      expect(server_show["version"]).to eq(before)
      page.driver.browser.action.move_to(from).click.perform
      page.assert_text("Holding")
      page.click_button("Larger")
      page.send_keys(:escape)
      page.assert_no_text("Holding")
    end

    it "draws only what is lit anew while a pointer moves" do
      go("Patch")
      page.find("[data-knot='list/row/9']").hover
      expect(page.all("path[data-strand]", visible: :all).size).to be > 40
      expect(page.evaluate_script("document.querySelectorAll(\"svg[aria-label='Patch loom'] path:not([data-strand])\").length")).to be < 20
    end

    it "unfolds what is unused, and gets larger" do
      go("Patch")
      before = page.all("[data-knot]").size
      page.find("[data-unfold='track']").click
      page.assert_selector("[data-knot='rec/track/40']", visible: :all)
      expect(page.all("[data-knot]", visible: :all).size).to be > before
      width = page.find("svg[aria-label='Patch loom']")[:width].to_f
      page.click_button("Larger")
      expect(page.find("svg[aria-label='Patch loom']")[:width].to_f).to be > width
    end
  end

  describe "the loom of mixes" do
    before do
      go("Patch")
      page.click_button("Mixes")
      page.assert_selector("svg[aria-label='Mixes loom']")
    end

    def strand(from, to) = "[data-strand='desk/#{from}>desk/#{to}']"

    it "assigns a channel to a bus and a group to the main by two clicks, and takes off what lies there by two more" do
      page.find("[data-knot='desk/channel/5']").click
      page.find("[data-knot='desk/bus/9']").click
      page.assert_selector(strand("channel/5", "bus/9"), visible: :all)
      page.assert_selector("[data-rule='orphan-bus']", text: "Bus 9 goes nowhere")
      page.find("[data-knot='desk/bus/9']").click
      page.find("[data-knot='desk/main/1']").click
      page.assert_selector("[data-rule='double-path']", text: "first comb notch at 3000 Hz")
      page.click_button("Loom")
      page.within("[data-rule='double-path']") { page.click_button("Show me") }
      page.assert_selector("svg[aria-label='Mixes loom']")
      page.find("[data-knot='desk/channel/5']").click
      page.find("[data-knot='desk/main/1']").hover
      page.assert_text("click or Enter takes the thread off")
      page.find("[data-knot='desk/main/1']").click
      page.assert_no_selector(strand("channel/5", "main/1"), visible: :all)
      page.assert_no_selector("[data-rule='double-path']")
    end
  end

  describe "taking off" do
    it "shows beforehand that a whole block would come off" do
      go("Patch")
      page.find("[data-knot='box-a/mic/9']").click
      page.find("[data-knot='desk/channel/9']").hover
      page.assert_selector("[data-testid=sentence]", text: "8 places would change: Channel 9–16 take nothing, before: Box A socket 9–16, raw.")
      page.find("svg[aria-label='Patch loom']").send_keys(:escape)
      page.assert_no_text("Holding")
    end

    it "frees a place by Delete or by a button while it is held, and says where nothing is to take off" do
      go("Patch")
      page.find("[data-knot='list/row/9']").click
      page.click_button("Free this place")
      page.assert_no_selector("[data-strand='list/row/9>box-a/mic/9']", visible: :all)
      page.assert_selector("[data-rule='unpatched']", text: "Accordion is not plugged in anywhere.")
      page.click_button("Undo")
      page.find("[data-knot='desk/channel/9']").hover
      loom = page.find("svg[aria-label='Patch loom']")
      page.execute_script("arguments[0].focus()", loom)
      loom.send_keys(:delete)
      page.assert_no_selector("[data-strand='box-a/mic/9>desk/channel/9']", visible: :all)
      loom.send_keys(:delete)
      page.assert_text("Nothing is laid on channel 9.")
    end
  end

  describe "a field as a table" do
    before do
      go("Patch")
      page.click_button("Table")
    end

    def grid = page.find("[role=grid]")
    def slot(id) = @installation.api("get", "#{@installation.show}/fields/#{id.rpartition("/").first}").last["slots"].find { |one| one["id"] == id }

    it "is typed, filled down and undone; a block follows its first slot" do
      page.assert_selector("#cell-8-2", text: "Box A socket 9")
      page.find("#cell-16-2").click
      grid.send_keys("Box A socket 1")
      page.find("input[aria-label='Takes']").send_keys(:enter)
      page.assert_selector("#cell-23-2", text: "Box A socket 8")
      pick("What is patched", "Quay desk: output")
      page.find("#cell-4-1").click
      grid.send_keys("bus 7")
      page.find("input[aria-label='Takes']").send_keys(:enter)
      page.assert_selector("#cell-4-3", text: "post-fader")
      page.find("#cell-4-1").click
      grid.send_keys(%i[shift down], %i[shift down], [:control, "d"])
      page.assert_selector("#cell-6-1", text: "bus 9")
      page.click_button("Undo")
      page.assert_selector("#cell-6-1", exact_text: "")
    end

    it "changes tap and delay, and refuses a delay that the output has not" do
      pick("What is patched", "Quay desk: output")
      page.find("#cell-0-3").click
      grid.send_keys(:enter)
      page.find("select[aria-label='Tap']").send_keys("pre", :enter)
      page.assert_selector("#cell-0-3", text: "pre-fader")
      page.find("#cell-0-4").click
      grid.send_keys("450")
      page.find("input[aria-label^='Delay']").send_keys(:enter)
      page.assert_text("Output 1 can be delayed by 0 to 200 ms, not by 450")
      expect(slot("desk/output/1")).to include("tap" => "pre-fader", "delay_ms" => 0.0)
    end

    # U3: the first letter opened a list, whose own search took another tap.
    it "keeps the tap that is typed, and refuses what is none" do
      pick("What is patched", "Quay desk: output")
      {"pre-fader" => "pre-fader", "post" => "post-fader"}.each do |typed, kept|
        page.find("#cell-0-3").click
        grid.send_keys(typed)
        page.find("input[aria-label='Tap']").send_keys(:enter)
        page.assert_selector("#cell-0-3", exact_text: kept)
      end
      page.find("#cell-0-3").click
      grid.send_keys("p")
      page.find("input[aria-label='Tap']").send_keys(:enter)
      page.assert_text("offers no tap \"p\"; it offers:")
    end

    it "writes the level of a send to a mix, and takes it off" do
      pick("What is patched", "sends to a mix")
      pick("Mix", "Drummer (bus 2)")
      page.find("#cell-4-2").click
      grid.send_keys("-7")
      page.find("input[aria-label^='Level']").send_keys(:enter)
      page.assert_selector("#cell-4-2", text: "-7")
      page.find("#cell-4-2").click
      grid.send_keys(:delete)
      page.assert_selector("#cell-4-2", exact_text: "")
      page.assert_selector("#cell-4-3", exact_text: "")
    end

    it "reaches every field of every device, and opens a block to single choices" do
      pick("What is patched", "Logbook: track")
      page.assert_selector("#cell-0-1", text: "lane 1")
      pick("What is patched", "Quay desk: channel")
      page.click_button("Open 17–24")
      page.find("#cell-19-2").click
      grid.send_keys("Box A socket 3")
      page.find("input[aria-label='Takes']").send_keys(:enter)
      page.assert_selector("#cell-19-3", text: "Cimbalom R")
      page.assert_selector("#cell-18-2", text: "local socket 3")
    end
  end

  describe "two desks" do
    it "have a loom each" do
      [{kind: "device", id: "monitors", profile: "desk-32", name: "Monitor desk", clock: "aes50-b"},
        {kind: "cable", a: "monitors/aes50-b", b: "desk/aes50-b", length_m: 30},
        {kind: "run", slot: "desk/aes50-b-out/1", from: "desk/aes50-a-in/1", count: 16}].each { |edit| @installation.api("post", "#{@installation.show}/edits", {version: server_show["version"], edit: edit}) }
      go("Patch")
      page.click_button("Monitor desk")
      knot = page.find("[data-knot='monitors/channel/9']")
      expect(page).to have_no_selector("[data-knot='desk/channel/9']")
      page.driver.browser.action.move_to(page.find("[data-knot='monitors/channel/1']").native).perform
      page.assert_selector("[data-testid=sentence]", text: "Monitor desk channel 1 gets nothing")
      @installation.api("post",
        "#{@installation.show}/edits",
        {version: server_show["version"], edit: {kind: "lay", takes: {"monitors/channel/9" => {from: "monitors/aes50-b-in/9"}}}})
      page.assert_selector("[data-strand='box-a/mic/9>monitors/channel/9']", visible: :all)
      knot.hover
      page.assert_selector("[data-testid=sentence]", text: "Monitor desk channel 9 carries Accordion: Box A socket 9 → Quay desk channel 9 and Monitor desk channel 9")
    end
  end

  describe "scenes" do
    it "are kept, compared in words, and recalled in part" do
      go("Patch")
      keep_scene("Afternoon")
      page.within("[role=dialog]") { page.click_button("Close") }
      version = server_show["version"]
      @installation.api("post",
        "#{@installation.show}/edits",
        {version: version, edit: {kind: "group", edits: [{kind: "swap", one: "desk/channel/1", other: "desk/channel/17"},
          {kind: "plug", row: "list/row/4", socket: "desk/mic/30"}]}})
      page.click_button("Scenes")
      page.click_button("Afternoon")
      page.assert_text("Tuba is plugged in at Box A socket 4, now: local socket 30")
      page.find("label", text: "where microphones are plugged").click
      page.click_button("Recall what is ticked")
      page.assert_no_selector("[role=dialog]")
      @installation.wait("the recall") { row(4)["socket"] == "box-a/mic/4" }
      page.assert_selector("[data-strand='box-a/mic/1>desk/channel/17']", visible: :all)
    end

    def keep_scene(name)
      page.click_button("Scenes")
      page.fill_in("Keep the patch of now as", with: name)
      page.click_button("Keep")
      page.assert_selector("button", text: name)
    end
  end

  describe "plan and desk" do
    before { @installation.wait("the desk") { @installation.api("get", "#{@installation.show}/desk").last["count"] == 0 } }

    # Somebody turns a knob at the desk itself.
    def turn_knob = desk.send(OSC::Message.new("/send", 7, "desk/channel/3", "desk/bus/1", "pre-fader", 4.0).encode, 0)

    it "show what somebody turned at the desk, push the plan back" do
      go("Patch")
      page.assert_selector("button", text: "desk ✓")
      turn_knob
      page.click_button("Desk differs in 1")
      page.assert_text("Channel 3 to Booth wedge (bus 1) is 4.0 dB, pre-fader, planned: -12.0 dB, pre-fader")
      page.click_button("Push all to the desk")
      page.assert_text("The desk has what the plan says.")
    end

    # U9: the tick of a field that was done lived on, and the button did nothing.
    it "push or pull one field, and then what is left" do
      turn_knob
      desk.send(OSC::Message.new("/power", 8, "box-a/mic/4", 1).encode, 0)
      go("Patch")
      page.click_button("Desk differs in 2")
      page.find("label", text: "sends").click
      page.click_button("Pull what is ticked into the plan")
      page.assert_no_text("Channel 3 to Booth wedge (bus 1)")
      page.click_button("Push all to the desk")
      page.assert_text("The desk has what the plan says.")
    end

    it "pull what the desk has into the plan, as one edit that can be undone" do
      turn_knob
      go("Patch")
      page.click_button("Desk differs in 1")
      page.click_button("Pull all into the plan")
      page.assert_text("The desk has what the plan says.")
      page.click_button("Close")
      page.click_button("Undo")
      @installation.wait("the desk to follow") { @installation.api("get", "#{@installation.show}/desk").last["count"] == 0 }
      page.assert_selector("button[aria-label=Redo]:not([disabled])")
    end
  end

  describe "two browsers" do
    it "see each other's edits at once, and undo each their own" do
      visit(other, "patch")
      go("Patch")
      rename(page, "Hurdy")
      other.assert_selector("#knot-list\\/row\\/1", text: "Hurdy")
      rename(other, "Narr", 11)
      page.assert_selector("#knot-list\\/row\\/12", text: "Narr")
      page.click_button("Undo")
      page.assert_selector("#knot-list\\/row\\/1", text: "Hurdy-gurdy")
      other.assert_selector("#knot-list\\/row\\/12", text: "Narr")
    end

    it "do not undo what the other has built on since, and say who and what" do
      visit(other, "patch")
      go("Patch")
      rename(page, "Hurdy")
      other.assert_selector("#knot-list\\/row\\/1", text: "Hurdy")
      rename(other, "Wheel fiddle")
      page.assert_selector("#knot-list\\/row\\/1", text: "Wheel fiddle")
      page.click_button("Undo")
      page.assert_text("changed the same place since")
      expect(row(1)["name"]).to eq("Wheel fiddle")
      page.click_button("History")
      page.assert_selector("[role=dialog] tr", text: "another browser")
    end

    def rename(session, name, at = 0)
      session.click_button("Input list")
      session.find("#cell-#{at}-1").click
      session.find("[role=grid]").send_keys(name)
      session.find("input[aria-label='Source']").send_keys(:enter)
      session.assert_selector("#cell-#{at}-1", text: name)
      session.click_button("Loom")
    end
  end

  it "keeps a template without the show's names, and another show begins with it" do
    page.click_button("Templates")
    page.fill_in("Keep this rig and its patch as", with: "Puppet rig")
    page.click_button("Keep")
    page.assert_text("Puppet rig")
    page.click_button("Close")
    before = server_show
    page.click_link("All shows")
    page.click_button("New show")
    page.within("[role=dialog]") { page.fill_in("Name", with: "Second harbour") }
    page.find("[role=combobox]", text: "nothing").click
    page.find("[role=option]", text: "the template Puppet rig").click
    page.click_button("Make it")
    page.assert_selector("header h1", text: "Second harbour")
    made = page.current_path[%r{/shows/(\d+)-second-harbour/rig}, 1]
    expect(@installation.api("get", "/api/shows/#{made}").last["rows"].first["name"]).to eq("Input 1")
    expect(server_show["name"]).to eq(before["name"])
  end

  it "shows the patch sheets as they print, and gives them as PDF and CSV" do
    go("Paper")
    page.assert_selector("[aria-label=Preview] h3", text: "Box A: inputs")
    page.assert_selector("[aria-label=Preview] td", text: "NEVER")
    pdf = Net::HTTP.get_response(URI(page.find_link("Open as PDF")[:href]))
    expect([pdf["content-type"], pdf.body[0, 4]]).to eq(["application/pdf", "%PDF"])
    csv = Net::HTTP.get_response(URI(page.find_link("inputs.csv")[:href]))
    expect([csv["content-type"], csv.body.force_encoding("UTF-8").lines.size]).to eq(["text/csv;charset=utf-8", 13])
  end

  it "writes nothing half-done when the database goes away, and goes on when it is back" do
    @installation.stop_database
    go("Patch")
    page.click_button("Input list")
    page.find("#cell-0-1").click
    page.find("[role=grid]").send_keys("Lost?")
    page.find("input[aria-label='Source']").send_keys(:enter)
    page.assert_text("One change is not kept yet: Source of Hurdy-gurdy (Lost?). The database does not answer; nothing was changed.")
    @installation.restart_database
    @installation.wait("the show") { @installation.api("get", @installation.show).first == 200 }
    expect(row(1)["name"]).to eq("Hurdy-gurdy")
    page.click_button("Keep it now")
    page.assert_no_text("not kept yet")
    expect(row(1)["name"]).to eq("Lost?")
    page.click_button("Undo")
    @installation.wait("the name of before") { row(1)["name"] == "Hurdy-gurdy" }
  end

  [%w[Patch sheet], %w[Patch table], %w[Patch mixes]].each do |step, name|
    %w[night linen].each do |theme|
      it "passes the accessibility check: #{name}, #{theme}" do
        go(step)
        page.click_button({"sheet" => "Input list", "table" => "Table", "mixes" => "Mixes"}.fetch(name)) if step == "Patch"
        page.assert_selector("main h2", text: step)
        expect_accessible(theme)
      end
    end
  end
end
