# frozen_string_literal: true

module Loomshuttle
  module Soundcheck
    # What a proof says, in sentences: of all lanes, of one lane, and what is to be done at the desk.
    #
    #   ProofWords.of(show, proof)   # => ["8 of 12 come back as planned.", "6 and 7 are crossed."]
    module ProofWords
      module_function

      # @param proof [Proof]
      # @return [Array<String>] how many are right first, then what is not; what was heard with another patch is held against none
      def of(show, proof)
        return past(proof.feed(show)) unless proof.holds?(show)
        return quick(show, proof) if proof.quick

        lanes = proof.lanes(show)
        back, others = lanes.partition { |one| one.planned.any? }
        [*(back.empty? ? stage(others) : count(back)), *kinds(show, lanes), *unheard(show, back), *faults(show, proof, lanes)]
      end

      def quick(show, proof)
        planned = Signal::Feed.of_desk(show)
        case proof.feed(show)
        when :unknown then ["Nothing could be heard: no lane to the recorder takes a channel behind its feed or a mix, or something loud lies on all that do."]
        when planned then ["Heard: the desk listens to the #{planned}, as planned."]
        else ["Heard: the desk listens to the #{proof.feed(show)}, not to the #{planned} as planned."]
        end
      end

      def past(feed) = (feed == :unknown) ? [] : ["The desk listened to the #{feed} then."]

      def count(back)
        right = back.count(&:fine?)
        # What comes back in a mix comes back; whether as planned is not known.
        known = back.none? { |one| one.state == "mix" }
        ["#{(right == back.size) ? "All #{back.size}" : "#{right} of #{back.size}"} #{(right == 1) ? "comes" : "come"} back#{" as planned" if known}."]
      end

      def stage(others)
        return ["No lane goes back to the desk."] if others.empty?

        silent = others.count { |one| one.state == "stage" }
        (silent == others.size) ? ["Nothing comes back: the desk listens to the stage, as planned."] : []
      end

      def kinds(show, lanes)
        by_state = lanes.group_by(&:state)
        [crossed(by_state.fetch("crossed", [])), *by_state.fetch("doubled", []).map { |one| "#{one.lane} comes back on #{heard(show, one)}." },
          said(by_state["dead"], "does not arrive", "do not arrive"), said(by_state["left on"], "is still listened to", "are still listened to"),
          said(by_state["mix"], "comes back in a mix alone, so on which channel is not known", "come back in a mix alone, so on which channels is not known")].compact
      end

      def crossed(lanes)
        return nil if lanes.empty?

        "#{Words::Runs.list(lanes.map { |one| one.lane.to_s })} #{(lanes.size == 1) ? "comes back on another channel" : "are crossed"}."
      end

      def said(lanes, one, many)
        lanes && "#{Words::Runs.text(lanes.map(&:lane))} #{(lanes.size == 1) ? one : many}."
      end

      # Whom nobody could hear, and what would help.
      def unheard(show, back)
        lanes = back.select { |one| one.state == "unknown" }
        return [] if lanes.empty?

        way = WayBack.of(show)
        heard_raw = lanes.flat_map(&:planned) & way.raw
        why = if heard_raw.any? then "#{Words::Runs.channels(show, heard_raw)} #{(heard_raw.size == 1) ? "goes" : "go"} to the recorder raw, past what #{(heard_raw.size == 1) ? "it listens" : "they listen"} to: #{instead(show)}"
        elsif way.lanes_in.empty? then "no lane to the recorder takes a channel behind its feed: move one lane there, or record a mix of these channels"
        else "their channels are on no lane that could be heard, or something loud lies on it: close the microphones, or record a mix of these channels"
        end
        ["#{Words::Runs.text(lanes.map(&:lane))} could not be heard: #{why}."]
      end

      # What the recorder's lanes can take of a desk.
      def instead(show)
        takes = show.rig.all_of("desk").any? { |desk| desk.profile.fields["card-send"]&.takes?("channel") }
        takes ? "take them at their input instead" : "record a mix of these channels, or an output that takes one of them"
      end

      def faults(show, proof, lanes)
        lanes.reject { |one| one.faults.empty? }.map { |one| "#{one.lane} #{Words::Runs.list(one.faults.map { |fault| fault_words(proof, one, fault) })}." }
      end

      def fault_words(proof, one, fault)
        arrival = one.heard.first
        case fault
        when "turned" then "is turned over"
        when "level" then "is #{arrival.gain_db.abs} dB too #{arrival.gain_db.negative? ? "low" : "high"}"
        when "late" then late(arrival.latency_frames - proof.round_trip_frames)
        else "comes back coloured: an equaliser, a gate or another processor is in its way"
        end
      end

      def late(frames) = "comes #{frames.abs} frames #{frames.positive? ? "later" : "sooner"} than the others"

      # Where it was heard, as people say it.
      def heard(show, one) = one.heard.empty? ? "nothing" : Words::Runs.list(one.heard.map { |arrival| show.label(arrival.channel) }.uniq)

      # What somebody does at the desk so that the plan comes true.
      #
      # @return [Array<String>]
      def steps(show, proof)
        lanes = proof.lanes(show)
        wrong = lanes.reject { |one| one.planned.empty? || %w[right mix unknown].include?(one.state) }
        [*wrong.flat_map { |one| one.planned.map { |channel| "Set #{show.label(channel)} to #{lane_at_desk(show, one, channel)}." } },
          *lanes.select { |one| one.state == "left on" }.flat_map { |one| one.heard.reject(&:mix).map { |arrival| "Set #{show.label(arrival.channel)} back to the stage." } },
          *lanes.select { |one| one.faults.include?("turned") }.map { |one| "Turn the polarity of #{heard(show, one)} back." }].uniq
      end

      def lane_at_desk(show, one, channel)
        lane = show.graph.line_back(channel).find { |id| id.include?("/card-return/") }
        lane ? show.label(lane) : "return #{one.lane}"
      end
      private_class_method :quick, :count, :stage, :kinds, :crossed, :said, :unheard, :instead, :faults, :fault_words, :late, :lane_at_desk
    end
  end
end
