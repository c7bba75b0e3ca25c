# frozen_string_literal: true

# Takes the pictures in docs/screenshots from a running demo:
#   bundle exec ruby demo/shots.rb http://127.0.0.1:4600 [folder]
require_relative "../spec/support/browser"

address, folder = ARGV
Capybara.default_max_wait_time = 10
folder ||= File.expand_path("../docs/screenshots", __dir__)
FileUtils.mkdir_p(folder)
session = Capybara::Session.new(:loom)
Browser.exact_size(session)
shot = ->(name) { session.save_screenshot(File.join(folder, "#{name}.png")) }

%w[rig patch capture soundcheck tracks].each do |step|
  session.visit("#{address}/#{step}")
  session.assert_selector("main svg [data-knot]", minimum: 1) if %w[patch soundcheck tracks].include?(step)
  session.assert_selector("main h2", text: /#{step}/i)
  session.assert_text("desk ✓")
  sleep 1
  shot.call(step)
end
session.visit("#{address}/patch")
session.find("[data-knot='list/row/9']").hover
session.assert_selector("[data-testid=sentence]", text: "Accordion")
sleep 0.5
shot.call("patch-thread")
session.find("button[aria-label='Linen theme']").click
sleep 0.5
shot.call("patch-linen")
