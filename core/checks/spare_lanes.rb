# frozen_string_literal: true

module Loomshuttle
  module Checks
    # The main mix could be printed beside the tracks: two lanes are free for it, or carry it and no track takes them.
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
        there = lanes.all? { |lane| mixed?(show, Endpoint.id(desk.id, "card-send", lane)) }
        Finding.new(rule: "spare-lanes", severity: "note", step: "capture", title: there ? "No track takes the main mix" : "Two free lanes could take the main mix",
          what: "Lanes #{Words::Runs.text(lanes)} of #{desk.name}'s card carry #{there ? "it already" : "nothing yet"}.",
          why: "A printed mix is there when somebody asks for the show the same night.", endpoints: [desk.id],
          mend: Mend.new(label: there ? "Make two tracks of it" : "Record the main mix there", edits: [edit]))
      end

      # Whether a main runs in a lane.
      def mixed?(show, lane) = show.graph.line_back(lane).any? { |place| show.rig.kind_of(place) == "main" }
      private_class_method :finding, :mixed?
    end
  end
end
