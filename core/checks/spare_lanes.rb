# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Two free lanes could print the main mix beside the tracks.
    module SpareLanes
      module_function

      def findings(show)
        return [] if show.tracks.values.none?(&:armed)

        desk, computer = show.rig.first_of("desk"), show.rig.first_of("computer")
        return [] unless desk && computer && show.rig.ids_of("main").any?

        edit = Edits::RecordMix.new(desk: desk.id, computer: computer.id)
        after = edit.apply(show)
        # A desk that sends back what it prints would hear itself.
        (after.is_a?(Refusal) || Signal::Cycles.of(after).size > Signal::Cycles.of(show).size) ? [] : [finding(show, after, edit, desk)]
      end

      def finding(show, after, edit, desk)
        lanes = (after.tracks.values - show.tracks.values).map(&:number)
        Finding.new(rule: "spare-lanes", severity: "note", step: "capture", title: "Two free lanes could take the main mix",
          what: "Lanes #{Words::Runs.text(lanes)} of #{desk.name}'s card carry nothing yet.",
          why: "A printed mix is there when somebody asks for the show the same night.", endpoints: [desk.id],
          mend: Mend.new(label: "Record the main mix there", edits: [edit]))
      end
      private_class_method :finding
    end
  end
end
