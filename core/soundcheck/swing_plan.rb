# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What a swing will do, before it is done.
    #
    # changes   [{slot:, from:, to:}] every slot that will take something else
    # turns     channels that listen to the other side then, by their slots or by a switch
    # stays     channels that are heard from the stage all the same
    # silences  channels that sounded and would not any more
    # left      channels that stay on the recorder though all were to come back
    # proved    true when all of the above was worked out for whole desks and the way back was tried:
    #           it ends at the patch with everything on the stage, slot by slot, switch by switch
    SwingPlan = Value.of(:to, :edits, :changes, :turns, :stays, :silences, :left, :proved) do
      # @return [SwingPlan, Refusal]
      def self.there(show, edits:, desk:)
        turned = Edits::Group.new(edits: edits).apply(show)
        return turned if turned.is_a?(Refusal)

        plan = made(show, turned, :recorder, edits, desk)
        plan.with(proved: plan.silences.empty? && own?(show, turned, plan.turns) && home?(show, turned))
      end

      # @return [SwingPlan, Refusal]
      def self.back(show, edits:, desk:)
        turned = Edits::Group.new(edits: edits).apply(show)
        return turned if turned.is_a?(Refusal)

        plan = made(show, turned, :stage, edits, desk)
        plan.with(proved: plan.left.empty? && plan.silences.empty?)
      end

      def self.made(before, after, to, edits, desk)
        channels = before.rig.ids_of("channel").select { |id| desk.nil? || id.start_with?("#{desk}/") }
        feeds = channels.to_h { |id| [id, [Signal::Feed.of(before, id), Signal::Feed.of(after, id)]] }
        live = channels.select { |id| Signal::Feed.live?(before, id) }
        sounding = channels.select { |id| Signal::Feed.live?(after, id) }
        new(to: to, edits: edits, changes: changes(before, after), proved: false,
          turns: feeds.select { |_, (was, is)| was != is && ((to == :recorder) ? is : was) == :recorder }.keys,
          stays: (to == :recorder) ? sounding.select { |id| feeds[id].last == :stage } : [],
          silences: live - sounding - ((to == :stage) ? feeds.select { |_, (was, _)| was == :recorder }.keys : []),
          left: (to == :stage) ? feeds.select { |_, (_, is)| is == :recorder }.keys : [])
      end

      def self.changes(before, after)
        slots = (before.patch.slots.keys | after.patch.slots.keys).reject { |id| before.patch.slots[id] == after.patch.slots[id] }
        slots.map { |id| {slot: id, from: before.patch.slots[id]&.from, to: after.patch.slots[id]&.from} }
      end

      # Whether each channel that turns plays what was recorded of its own source.
      def self.own?(before, after, turns)
        sources = Signal::Sources.channels(before)
        turns.all? { |channel| Signal::Sources.channels(after)[channel] == sources[channel] }
      end

      # Whether the way back from there ends where all is on the stage.
      def self.home?(before, turned)
        home = Swing.staged(turned)
        home.patch == Swing.staged(before).patch && !home.swung.swung?
      end
      private_class_method :made, :changes, :own?, :home?

      # What it would do, in sentences: the good ones first, whom it would harm last.
      #
      # @param show [Show] that it was made for
      # @return [Array<String>]
      def words(show)
        named = ->(channels) { Words::Runs.names(channels.map { |channel| "#{show.label(channel)} (#{source(show, channel)})" }, 8) }
        [turning(show), relaid(show), returning(show),
          ("#{Words::Runs.capital(named[stays])} #{(stays.size == 1) ? "stays" : "stay"} on the stage." if stays.any?),
          ("It would silence #{named[silences]}: #{(silences.size == 1) ? "its block" : "their blocks"} cannot be opened on this model." if silences.any?),
          *remaining(show, named),
          proved ? "Checked: there and back, the whole desk ends at the very same patch." : "Not proved: turning it there and back does not give the same desk for everybody."].compact
      end

      def edit = Edits::Group.new(edits: edits)
      def to_data(show) = {**to_h.except(:edits), words: words(show)}

      private

      # Who is left on the recorder, and why.
      def remaining(show, named)
        held, loose = left.partition { |channel| Signal::Sources.stage_source(show, channel) }
        said = ->(channels, why) { "#{Words::Runs.capital(named[channels])} #{(channels.size == 1) ? "stays" : "stay"} on the recorder: #{why}." }
        [(said[loose, "nothing of #{(loose.size == 1) ? "it" : "them"} is plugged in on the stage"] if loose.any?),
          (said[held, "#{(held.size == 1) ? "its block does" : "their blocks do"} not come back in line, and this model opens none"] if held.any?)].compact
      end

      def source(show, channel) = show.rows[Signal::Sources.channels(show)[channel]]&.name || "no source"

      def turning(show)
        return (returned(show).any? ? nil : "No channel turns.") if turns.empty?

        "#{Words::Runs.capital(Words::Runs.channels(show, turns))} #{(turns.size == 1) ? "turns" : "turn"} to the #{to}."
      end

      # Channels that are on the recorder and are to be heard from the stage while the others stay there.
      def returned(show) = stays.select { |channel| Signal::Feed.of(show, channel) == :recorder }

      def returning(show)
        back = returned(show)
        "#{Words::Runs.capital(Words::Runs.channels(show, back))} #{(back.size == 1) ? "comes" : "come"} back to the stage." if back.any?
      end

      # Slots beside the channels' own: a second set, return lanes.
      def relaid(show)
        others = changes.map { |change| change[:slot] } - turns
        others = others.reject { |slot| show.rig.kind_of(slot) == "channel" }
        "#{Words::Runs.capital(Words::Runs.places(show, others))} #{(others.size == 1) ? "is" : "are"} laid anew for it." if others.any?
      end
    end
  end
end
