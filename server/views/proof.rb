# frozen_string_literal: true

module Loomshuttle
  module Server
    module Views
      # What was proved in a soundcheck, as every page shows it.
      module Proof
        module_function

        # @param kept [Store::Beside::Kept]
        # @param show [Show]
        # @param pinging [Boolean] whether a ping is being sent
        # @param check [Linecheck::State]
        def of(kept, show, pinging:, check:)
          way = Soundcheck::WayBack.of(show)
          {version: kept.version, pinging: pinging, muted: pinging ? [] : kept.state.muted.map { |id| show.label(id) },
           doors_at: kept.state.doors_at, steps: kept.state.steps_now(show).map(&:to_h), back: back(kept.state, show, check),
           unlaid: Soundcheck::LayReturns.missing(show).size, returns: way.returns.size,
           by_channel: way.ears.size, by_mix: way.mixes.size,
           proof: kept.state.proof && proof(kept.state.proof, show)}
        end

        # Whether the stage is what it was before, and what of the line check still holds.
        def back(state, show, check)
          changes = state.changed_since_stage(show) or return nil
          standing = show.rows.keys.group_by { |row| check.standing(show, row) }
          {changes: changes.map { |change| change[:words] }, proved: standing.fetch("fine", []).size, again: standing.fetch("again", []).map { |row| show.label(row) }}
        end

        # Lane by lane only with the patch that it was heard with: against another one its lanes say nothing.
        def proof(proof, show)
          holds = proof.holds?(show)
          lanes = (holds && !proof.quick) ? proof.lanes(show) : []
          {at: proof.at, who: proof.who, quick: proof.quick, holds: holds, feed: proof.feed(show), level_dbfs: proof.level_dbfs, rate_hz: proof.rate_hz,
           round_trip_frames: proof.round_trip_frames, words: Soundcheck::ProofWords.of(show, proof), steps: lanes.empty? ? [] : Soundcheck::ProofWords.steps(show, proof),
           mend: (mend(show, proof) if lanes.any? { |one| one.state == "crossed" }),
           lanes: lanes.map { |one| lane(show, one) }, ends: ends(show, lanes)}
        end

        def mend(show, proof)
          way = Soundcheck::AsHeard.of(show, proof)
          way.is_a?(Refusal) ? {label: nil, why: way.why} : {label: way.label, why: nil}
        end

        def lane(show, one)
          row = show.rows[show.track_at(one.source)&.row]
          {lane: one.lane, name: show.track_at(one.source)&.name || show.label(one.source), colour: row&.colour, planned: one.planned,
           state: one.state, faults: one.faults, fine: one.fine?,
           heard: one.heard.map { |arrival| arrival.to_h.slice(:channel, :gain_db, :inverted, :latency_frames, :coloured, :mix) }}
        end

        # Where the picture's threads can end: each channel that should hear one, or does; then mixes.
        def ends(show, lanes)
          mixes, channels = lanes.flat_map(&:heard).partition(&:mix).map { |arrivals| arrivals.map(&:channel).uniq }
          channels |= lanes.flat_map { |one| one.planned + one.meant }
          [*Endpoint.sorted(channels).map { |id| {id: id, label: show.label(id), mix: false} }, *mixes.map { |id| {id: id, label: show.label(id), mix: true} }]
        end
        private_class_method :back, :proof, :mend, :lane, :ends
      end
    end
  end
end
