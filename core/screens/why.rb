# frozen_string_literal: true

module Loomshuttle
  module Screens
    # "Why is nothing on ...?" answered from any place in one sentence, with the first broken
    # step and, where a check knows the cure, the mend.
    #
    #   Why.of(show, "rec/track/9").sentence
    #     # => "Track 9 gets nothing: card lane 9 takes local socket 9, where nothing is plugged in."
    module Why
      # fine    whether something arrives after all
      # broken  the place where the way breaks, nil when it does not
      # cure    Checks::Finding that knows a mend, or nil
      Answer = Value.of(:sentence, :fine, broken: nil, cure: nil) do
        def mend = cure&.mend
        def to_data = {sentence: sentence, fine: fine, broken: broken, mend: cure && {**mend.to_data, key: cure.key}}
      end

      module_function

      # @raise [BadInput] when the show has no such endpoint
      def of(show, id)
        Signal::Trace.back(show, id)
        return of_row(show, id) if show.rows.key?(id)

        line = show.graph.line_back(id)
        Signal::Carried.anything?(show, id) ? fine(show, id, line.last) : broken(show, id, line)
      end

      def of_row(show, row)
        socket = show.patch.plugs[row]
        return answer(show, "#{show.label(row)} is heard nowhere: it is not plugged in.", row, [row]) unless socket

        channels = show.graph.onward(row).map(&:to).select { |id| show.rig.kind_of(id) == "channel" }
        if channels.empty?
          return answer(show, "#{show.label(row)} stops at #{show.label(socket)}: no channel takes it.", socket, [row, socket])
        end
        if Signal::Reach.listeners(show, row).empty?
          return answer(show,
            "#{show.label(row)} stops at #{show.label(channels.first)}: it is sent to no mix that anybody hears.",
            channels.first,
            channels)
        end

        Answer.new(sentence: Signal::Sentence.of(show, row), fine: true)
      end

      def fine(show, id, origin)
        _, track = Signal::Sources.behind(show, id)
        if track
          return Answer.new(sentence: "#{capital(show.label(id))} plays #{show.track_at(track)&.name || show.label(track)} from disk, whenever a take runs.", fine: true)
        end
        return Answer.new(sentence: Signal::Sentence.of(show, id, :back), fine: true) unless show.rows.key?(origin)

        Answer.new(sentence: "#{capital(show.label(id))} gets #{show.label(origin)}. If it is silent, look at the preamp, the mute and the source itself.", fine: true)
      end

      def broken(show, id, line)
        last, before = line[-1], line[-2]
        behind, here = REASONS.fetch(reason(show, last))
        cause = before ? "#{show.label(before)} #{takes(show, before)} #{show.label(last)}, #{behind}" : here
        answer(show, "#{capital(show.label(id))} gets nothing: #{cause}.", last, line)
      end

      def takes(show, id) = (show.graph.back(id).kind == :patch) ? "takes" : "comes from"

      # Why a way ends at a place: said of a place that another takes, and of the place that was
      # asked about.
      REASONS = {
        absent: ["which is not there", "it is not there"],
        lacking: ["which this model does not have", "this model does not have it"],
        unplugged: ["where nothing is plugged in", "nothing is plugged in"],
        unlinked: ["and no cable brings anything there", "no cable brings anything there"],
        unsent: ["which no channel is sent to", "no channel is sent to it"],
        empty: ["which takes nothing", "nothing is laid on it"]
      }.freeze
      private_constant :REASONS

      # @return [Symbol] of REASONS
      def reason(show, id)
        place = show.rig.place(id)
        return :absent unless place
        return :lacking unless place.present?
        return :unplugged if place.family.name == "mic"
        return :unlinked if place.device.profile.ports.values.any? { |port| port.lanes_in == place.family.name }

        %w[bus main matrix].include?(place.kind) ? :unsent : :empty
      end

      # The gravest finding about a place on the way that knows its cure.
      def answer(show, sentence, broken, line)
        cure = Checks::All.findings(show).find { |finding| finding.mend && (finding.endpoints & line).any? }
        Answer.new(sentence: sentence, fine: false, broken: broken, cure: cure)
      end

      def capital(text) = text.empty? ? text : text[0].upcase + text[1..]
      private_class_method :of_row, :fine, :broken, :takes, :reason, :answer, :capital
    end
  end
end
