# frozen_string_literal: true

# Takes the pictures in docs/screenshots from a freshly started demo, through its pages:
#   bundle exec ruby demo/shots.rb http://127.0.0.1:4600 [folder]
require "json"
require "net/http"
require_relative "../spec/support/browser"
require_relative "../spec/support/fingers"
require_relative "../boot/core"
require_relative "lanterns"
require_relative "stems"

address, folder = ARGV
Capybara.default_max_wait_time = 20
Capybara.enable_aria_label = true
folder ||= File.expand_path("../docs/screenshots", __dir__)
FileUtils.mkdir_p(folder)
page = Capybara::Session.new(:loom)
Browser.exact_size(page)
go = ->(step) { page.visit("#{address}/shows/1/#{step}").then { page.assert_text("engine ✓") } }
shot = ->(name) { page.save_screenshot(File.join(folder, "#{name}.png")) }

# Two more shows beside the demo's, one of them with a finding mended.
make = ->(given) { Net::HTTP.post(URI("#{address}/api/shows"), JSON.generate(given), "content-type" => "application/json") }
make[{name: "Lanterns, second night", venue: "Quayside Hall", date: "2026-12-05", copy: 1}]
make[{name: "Tide songs", venue: "Barn behind the dyke", date: "2026-12-31"}]
page.visit(address)
page.assert_selector("[data-show='3']", text: "stop")
page.assert_selector("[data-show='1']", text: "MB")
page.assert_text("not capturing")
shot["shows"]

go["rig"]
page.assert_text("leads the clock")
page.assert_selector(".react-flow__edge", minimum: 2, visible: :all)
shot["rig"]
go["patch"]
page.assert_selector("[data-fray]")
shot["patch"]
page.find("[data-knot='list/row/9']").hover
page.assert_selector("[data-testid=sentence]", text: "Accordion")
page.within("[data-rule='silent-lane']") { page.click_button("Mend: take Box A socket 9–12") }
page.assert_no_selector("[data-fray]")

page.click_button("Mixes")
page.find("[data-knot='desk/bus/1']").hover
page.click_button("Levels of Booth wedge (bus 1)")
page.assert_selector("[aria-label='Level of channel 1, dB']")
shot["mixes"]
go["outputs"]
page.assert_selector("svg[aria-label='Outputs loom'] [data-strand]", visible: :all)
page.find("[data-knot='desk/output/1']").hover
page.assert_selector("[data-testid=sentence] input")
shot["outputs"]
go["patch"]
page.click_button("Table")
page.assert_selector("[role=grid] [data-row='desk/channel/12']")
page.click_button("Input list")
page.assert_selector("[role=grid] [data-row='list/row/12']")
shot["sheet"]
go["paper"]
page.assert_selector("[aria-label=Preview] td", text: "Hurdy-gurdy", match: :first)
shot["paper"]

# A phone, and a tablet at the side.
hand = Capybara::Session.new(:loom)
hold = ->(width, height, step, name, &look) do
  Fingers.new(hand, width: width, height: height)
  hand.visit("#{address}/shows/1/#{step}")
  hand.assert_selector("main h2")
  look.call
  hand.save_screenshot(File.join(folder, "#{name}.png"))
end

go["line-check"]
page.assert_selector("[role=meter]", minimum: 12)
# Somebody has swapped two plugs: two are proved, the third comes in where another belongs.
stage = ->(path, wish) { Net::HTTP.post(URI("#{address}/api/shows/1/#{path}"), JSON.generate(wish), "content-type" => "application/json") }
# A tap that comes while the one before still sounds on its partner's microphone is taken for a part of it, so it is made again.
tap = lambda do |number, found|
  5.times do
    stage["simulation", {do: "tap", row: "list/row/#{number}"}]
    break if page.has_selector?("[data-row='list/row/#{number}'][data-state=#{found}]", wait: 3)
  end
  page.assert_selector("[data-row='list/row/#{number}'][data-state=#{found}]")
end
stage["simulation", {do: "quiet", on: true}]
stage["simulation", {do: "plant", kind: "swap", row: "list/row/3", other: "list/row/4"}]
page.click_button("Begin the check")
page.assert_selector("[data-testid=found]", text: "Listening…")
tap[1, "fine"]
tap[2, "fine"]
tap[3, "wrong"]
shot["line-check"]
hold.call(390, 844, "line-check", "phone-line-check") { hand.assert_selector("[data-testid=found]", text: "look swapped") }
page.click_button("Stop listening")
stage["simulation", {do: "unplant"}]
stage["simulation", {do: "quiet", on: false}]

go["capture"]
page.click_button("Takes")
page.assert_text("nothing lost")
page.assert_selector("[aria-label='Hurdy-gurdy, its waveform']")
shot["takes"]
page.click_button("Tracks now")
page.click_button("Start the take")
page.assert_selector("[data-testid=elapsed]", text: "00:00:12")
shot["capture"]

hold.call(390, 844, "capture", "phone-capture") { hand.assert_selector("[role=meter]", minimum: 12).then { hand.assert_selector("[data-testid=capture-state]") } }
hold.call(834, 1112, "patch", "tablet-patch") { hand.assert_selector("[data-strand]", visible: :all, minimum: 12) }

button = page.find("button", text: "Hold to stop")
page.driver.browser.action.click_and_hold(button.native).perform
page.assert_no_selector("button", text: "Hold to stop")
page.driver.browser.action.release.perform

go["soundcheck"]
page.click_button("Swing to the recorder")
page.assert_selector("header[data-feed=recorder]")
page.click_button("Play in a loop: Rehearsal")
page.assert_selector("header", text: "00:00:04")
shot["soundcheck"]
page.click_button("Swing back to the stage")
page.assert_selector("header[data-feed=stage]")

go["tracks"]
page.click_button("Play Low tide waltz")
page.assert_text("bar 2")
shot["tracks"]
page.click_button("Stop", match: :first)
page.click_button("Linen theme")
page.click_button("Roles and lanes")
page.click_button("New mix of roles")
%w[organ tide].each do |role|
  page.find(:checkbox, "#{role} in Mix", visible: :all).set(true)
  page.assert_selector("[aria-label='Level of #{role} in Mix, dB']")
end
shot["roles"]
page.within("section[aria-label='Mix Mix']") { page.click_button("Remove") }
page.assert_no_selector("section[aria-label='Mix Mix']")
page.click_button("Close")
page.click_button("Night theme")
hand.quit
page.visit("#{address}/shows/1/stage")
page.click_button("Go (Space)")
page.assert_selector("[data-testid=section]", text: "Ebb")
page.find("body").send_keys("3")
page.assert_selector("[data-testid=bar]", text: "3 · 3")
shot["stage"]
page.driver.browser.action.click_and_hold(page.find_button("Stop (hold)").native).perform
page.assert_selector("[data-testid=section]", text: "Ready")
page.driver.browser.action.release.perform
page.click_link("Leave the stage")
page.click_button("New song")
Dir.mktmpdir do |folder|
  parts = {"03 Marsh organ.wav" => Loomshuttle::Demo::Stems.organ, "04 Bass DI.wav" => Loomshuttle::Demo::Stems.drum}
  files = parts.map { |name, part| File.join(folder, name).tap { |path| File.binwrite(path, Loomshuttle::Demo::Stems.wav(name, part)) } }
  page.attach_file("Sound files", files, make_visible: true)
  page.assert_selector("table[aria-label=Stems] tbody tr", count: 2)
  page.fill_in("Title", with: "Ebb song")
  shot["new-song"]
end
# The second show's desk is heard behind its feed: two of its channels are crossed.
page.visit("#{address}/shows/2/soundcheck")
page.click_button("Put it on air")
page.find("label", text: "Send the plan to the desk").click
page.within("[role=dialog]") { page.click_button("Put on air") }
page.assert_text("desk ✓")
page.assert_text("engine ✓")
page.click_button("Swing to the recorder")
page.assert_selector("header[data-feed=recorder]")
Net::HTTP.post(URI("#{address}/api/shows/2/simulation"), JSON.generate({do: "plant", kind: "crossed", row: "list/row/7", other: "list/row/8"}),
  "content-type" => "application/json")
page.click_button("Send the ping")
page.assert_selector("[data-testid=proof]", text: "7 and 8 are crossed.")
page.click_button("Each lane as it was heard")
page.assert_selector("svg[aria-label='The way back as it was heard'] [data-heard]", visible: :all, count: 32)
shot["ping"]
