# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Mains, named or not, or another mix with a name, that a re-patch moved to other sockets than noted,
    # or than in the newest scene.
    module Landing
      module_function

      def findings(show)
        moved = mixes(show).filter_map { |mix| moved(show, mix) }
        moved.group_by { |one| one[:scene] }.map { |scene, ones| finding(show, scene, ones) }
      end

      def mixes(show)
        named = show.names.keys.select { |id| %w[bus matrix].include?(show.rig.kind_of(id)) }
        (show.landed.keys + show.rig.ids_of("main").to_a + named).uniq.sort
      end

      def moved(show, mix)
        scene = show.scenes.keys.last unless show.landed.key?(mix)
        was = scene ? sockets(show.with(patch: show.scenes[scene]), mix) : show.landed[mix]
        now = sockets(show, mix)
        {mix: mix, was: was, now: now, scene: scene} if was&.any? && was.sort != now.sort
      end

      # Sockets at which a mix leaves the rig, whatever stands between.
      def sockets(show, mix)
        leaving = show.graph.from(mix).reject { |edge| edge.kind == :send }
          .flat_map { |edge| [edge.to, *show.graph.onward(edge.to).reject { |next_edge| next_edge.kind == :send }.map(&:to)] }
        Endpoint.sorted(leaving.select { |id| show.rig.kind_of(id) == "socket" && Endpoint.parse(id).family == "out-socket" }.uniq)
      end

      def finding(show, scene, ones)
        Finding.new(rule: "landing",
          severity: "warn",
          step: "outputs",
          title: "#{Words::Runs.capital(Words::Runs.names(ones.map { |one| show.names[one[:mix]] || show.label(one[:mix]) }))} #{(ones.size == 1) ? "leaves" : "leave"} elsewhere",
          what: ones.map { |one| words(show, one) }.join(" "),
          about: ones.map { |one| one.slice(:mix, :was, :now) },
          why: "Whoever stands at the old place hears nothing, or the wrong mix.",
          endpoints: ones.flat_map { |one| [one[:mix], *one[:now], *one[:was]] }.uniq,
          mend: mend(ones))
      end

      def words(show, one)
        places = ->(ids) { ids.empty? ? "no socket" : Words::Runs.list(ids.map { |id| show.rig.label(id) }) }
        then_words = one[:scene] ? "in scene \"#{one[:scene]}\" it left" : "it was to leave"
        "#{Words::Runs.capital(show.label(one[:mix]))} leaves by #{places[one[:now]]} now; #{then_words} by #{places[one[:was]]}."
      end

      # Only the engineer knows whether the new place is right; this notes that it is.
      def mend(ones)
        Mend.new(label: "It is right: note the new places", edits: ones.map { |one| Edits::Land.new(mix: one[:mix], sockets: one[:now]) })
      end
      private_class_method :mixes, :moved, :sockets, :finding, :words, :mend
    end
  end
end
