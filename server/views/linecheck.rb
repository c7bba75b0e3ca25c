# frozen_string_literal: true

module Loomshuttle
  module Server
    module Views
      # A guided line check as every page shows it.
      module Linecheck
        module_function

        # @param kept [Store::Beside::Kept]
        # @param show [Show]
        # @param ear [Hash] LineListener#state
        # @param minute [Hash] LineListener#minute
        # @param gains_db [Hash{String => Float}, nil] the desk's preamps by socket; nil where it tells of none
        def of(kept, show, ear, minute, gains_db)
          state = kept.state
          {version: kept.version, **state.to_h.slice(:listening, :measuring, :order, :free, :aim_dbfs, :full_scale_dbu), turn: state.turn(show), ear: ear,
           since: state.since && Loomshuttle::Linecheck::Said.since(show, state.since),
           hums: state.hums.map { |lane, hum| {lane: lane, said: Loomshuttle::Linecheck::Said.humming(show, lane, hum), at: hum[:at]} },
           rows: state.rows(show).map { |id| {**row(state, show, id), gain: gain(state, show, id, minute, gains_db)} }}
        end

        def row(state, show, id)
          verdict, way = state.verdict(show, id), Loomshuttle::Linecheck::Way.of(show, id)
          {id: id, number: show.rows[id].number, name: show.label(id), socket: way.socket && show.label(way.socket), lanes: way.lanes,
           state: state.standing(show, id), verdict: verdict && found(show, id, verdict)}
        end

        # @return [Hash, nil] nil where nobody played in the last minute
        def gain(state, show, id, minute, gains_db)
          lane = Loomshuttle::Linecheck::Way.of(show, id).lanes.first
          return nil unless lane

          peak, rms = minute.values_at("peak_dbfs", "rms_dbfs").map { |levels| levels&.at(lane - 1) }
          found = Loomshuttle::Linecheck::Gain.of(peak_dbfs: peak, rms_dbfs: rms, aim_dbfs: state.aim_dbfs) or return nil
          {peak_dbfs: peak, rms_dbfs: rms, rms_dbu: Loomshuttle::Linecheck::Gain.dbu(rms, state.full_scale_dbu), **found, preamp_db: gains_db&.fetch(show.patch.plugs[id], 0.0)}
        end

        def found(show, id, verdict)
          said = Loomshuttle::Linecheck::Said.of(show, id, verdict)
          {place: verdict.place, lane: verdict.lane, peak_dbfs: verdict.peak_dbfs, faults: verdict.faults.map { |fault| fault[:kind] }, said: said,
           who: verdict.who, at: verdict.at, other: (Loomshuttle::Linecheck::Way.row_of(show, verdict.lane) if verdict.place == "elsewhere"), mend: mend(show, id, verdict)}
        end

        # What the plan can do about it: a button's words, or why there is none.
        def mend(show, id, verdict)
          return nil unless verdict.place == "elsewhere"

          way = Loomshuttle::Linecheck::Repatch.of(show, id, verdict.lane)
          way.is_a?(Refusal) ? {label: nil, why: way.why} : {label: way.label, why: nil}
        end
        private_class_method :row, :gain, :found, :mend
      end
    end
  end
end
