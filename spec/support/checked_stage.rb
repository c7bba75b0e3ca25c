# frozen_string_literal: true

require_relative "quiet_stage"

# The stand-in's desk and the ear in one process, block by block and faster than time: taps a source and says
# what the judge makes of what arrives at the card.
class CheckedStage
  FRAMES = 1024

  attr_reader :console, :show

  # @param show [Loomshuttle::Show]
  # @param band [Loomshuttle::Standin::Band]
  # @param sounds [Loomshuttle::Standin::Stage::Sounds]
  def initialize(show, band, sounds)
    @show, @sounds = show, sounds
    @console = Loomshuttle::Standin::Console.new(show)
    @console.quiet(1)
    @desk = Loomshuttle::Standin::Desk.new(band, frames: FRAMES)
    @frame = 0
  end

  # @return [Array<Loomshuttle::Ear::Arrival>] what is heard until it is quiet again
  def arrivals(row, seconds: 1.4)
    listen(0.6) if @ear.nil?
    refused = @console.tap(row)
    raise refused if refused

    listen(seconds)
  end

  # @return [Hash, nil] what the judge says; nil where nothing was heard
  def judged(row, show: @show)
    heard = arrivals(row)
    raise "#{heard.size} arrivals of one tap" if heard.size > 1

    heard.first && Loomshuttle::Linecheck::Judge.of(show, row, heard.first)
  end

  # After a change of the console.
  def listen(seconds)
    @desk.routing = Loomshuttle::Standin::Routing.new(@console, @sounds)
    @ear ||= Loomshuttle::Ear::Arrivals.new(lanes: @console.card_lanes, rate_hz: @show.sample_rate_hz, block_frames: FRAMES, deaf: Loomshuttle::Linecheck::Way.mixed_lanes(@show))
    Array.new((seconds * @show.sample_rate_hz / FRAMES).ceil) { @ear.hear(block) }.compact
  end

  private

  def block
    out = @desk.process(@frame, nil)
    made = QuietStage::Block.new(@frame, FRAMES, Numo::SFloat.cast(out.transpose) / 2**31)
    @frame += FRAMES
    made
  end
end
