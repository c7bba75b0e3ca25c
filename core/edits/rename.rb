# frozen_string_literal: true

module Loomshuttle
  module Edits
    # Gives a row, a track (by its id or its place) or any place of the rig another name; tracks that are called like
    # a row follow it. Any text is a name; a file gets a safe form of it (Capture::FileName). A place that is given
    # none has its own again.
    Rename = Edit.of("rename", id: :id, name: :text) do
      def apply(show)
        track = show.tracks[id] || show.track_at(id)
        return place(show) if name.empty? && track.nil? && show.rig.present?(id)

        refuse_name || (show.rows.key?(id) && rename(show, :rows, id)) || (track && rename(show, :tracks, track.id)) || (show.rig.present?(id) && place(show)) ||
          Refusal.new(field: "id",
            value: id,
            allowed: "a row, a track or a place of the rig",
            why: "There is no row, track or place #{id}.")
      end

      private

      def place(show) = show.with(names: (name.empty? ? show.names.except(id) : show.names.merge(id => name)).freeze)

      def rename(show, member, id)
        after = show.with(member => show.public_send(member).merge(id => show.public_send(member)[id].with(name: name)).freeze)
        (member == :rows) ? Capture::Track.following(show, after) : after
      end

      def refuse_name
        return nil if name.strip.size.between?(1, Capture::Row::NAME_LENGTH_MAX) && !name.match?(/[[:cntrl:]]/)

        Refusal.new(field: "name", value: name, allowed: "1 to #{Capture::Row::NAME_LENGTH_MAX} characters, no control characters",
          why: "A name has 1 to #{Capture::Row::NAME_LENGTH_MAX} characters and no control characters.")
      end
    end
  end
end
