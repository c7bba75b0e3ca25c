# frozen_string_literal: true

require "json"

# A page as a hand-held device shows it, and fingers on it: through Chromium's own touch events, not through
# events that a script makes up.
#
#   hand = Fingers.new(session, width: 390, height: 844)
#   hand.drag("[data-knot='list/row/1'] [data-grip]", "[data-knot='box-a/mic/13'] [data-grip]")
class Fingers
  # Elements that reach beyond the page's right edge, as whoever looks would see them.
  BEYOND = <<~JS
    return [...document.querySelectorAll("body *")].filter((one) => {
      const box = one.getBoundingClientRect();
      if (!(box.width > 0 && box.right > innerWidth + 1 && box.left < innerWidth)) return false;
      for (let at = one.parentElement; at; at = at.parentElement)
        if (getComputedStyle(at).overflowX !== "visible" && at.getBoundingClientRect().right <= innerWidth + 1 && at.matches("svg, .react-flow, [data-clips]")) return false;
      return getComputedStyle(one).visibility !== "hidden";
    }).map((one) => `${one.tagName} ${one.getAttribute("aria-label") || one.textContent.slice(0, 30)}`).slice(0, 5);
  JS
  # Whatever is to be pressed and is smaller than a finger; what lies in a picture has a size of its own.
  SMALL = <<~JS
    return [...document.querySelectorAll("button, a, input, select, [role=button], [role=checkbox]")].filter((one) => !one.closest("svg, .react-flow__viewport, .react-flow__attribution")).filter((one) => {
      const part = one.tagName === "INPUT" ? one.closest("label") || one.closest(".MuiInputBase-root, .MuiCheckbox-root, .MuiSwitch-root") || one : one;
      const box = part.getBoundingClientRect();
      return box.width > 0 && (box.height < 43.5 || (box.width < 43.5 && one.tagName !== "INPUT"));
    }).map((one) => `${one.getAttribute("aria-label") || one.textContent.slice(0, 30)}: ${Math.round(one.getBoundingClientRect().width)}x${Math.round(one.getBoundingClientRect().height)}`);
  JS
  private_constant :BEYOND, :SMALL

  def initialize(session, width:, height:)
    @session = session
    cdp("Emulation.setDeviceMetricsOverride", width: width, height: height, deviceScaleFactor: 1, mobile: true)
    cdp("Emulation.setTouchEmulationEnabled", enabled: true)
    cdp("Emulation.setEmulatedMedia", features: [{name: "prefers-reduced-motion", value: "reduce"}])
  end

  # @return [Array<String>] what reaches beyond the page's edge
  def beyond = @session.evaluate_script("(() => { #{BEYOND} })()")

  # @return [Array<String>] what is too small for a finger, with its size in pixels
  def small = @session.evaluate_script("(() => { #{SMALL} })()")

  def tap(selector)
    at = middle(selector)
    touch("touchStart", at)
    touch("touchEnd")
  end

  # From the middle of one place to that of another, on its way in steps as a hand is.
  def drag(from, to)
    stroke(middle(from), middle(to))
  end

  # A stroke that begins in the middle of a place.
  def swipe(from, x: 0, y: 0)
    start = middle(from)
    stroke(start, [start[0] + x, start[1] + y])
  end

  private

  STEPS = 12
  private_constant :STEPS

  def stroke(from, to)
    touch("touchStart", from)
    (1..STEPS).each { |n| touch("touchMove", from.zip(to).map { |a, b| a + (b - a) * n / STEPS }) }
    touch("touchEnd")
  end

  def middle(selector)
    @session.assert_selector(selector, visible: :all)
    @session.evaluate_script("(() => { const box = document.querySelector(#{selector.to_json}).getBoundingClientRect(); return [box.x + box.width / 2, box.y + box.height / 2]; })()")
  end

  def touch(type, at = nil)
    cdp("Input.dispatchTouchEvent", type: type, touchPoints: at ? [{x: at[0], y: at[1]}] : [])
  end

  def cdp(command, **given) = @session.driver.browser.execute_cdp(command, **given)
end
