# frozen_string_literal: true

module Loomshuttle
  module Checks
    # Whether the newest take fits the show that is to hear it: files for which there is no track,
    # tracks for which there is no file, files of other lengths than the rest.
    module TakeFit
      READS = %i[takes].freeze

      module_function

      def findings(show, facts)
        take = (facts.takes || []).select { |one| one[:tracks] }.max_by { |one| one[:number] }
        return [] if take.nil? || show.tracks.empty?

        known = take[:tracks].keys
        strange = known - show.tracks.keys
        missing = show.tracks.values.select(&:row).reject { |track| known.include?(track.id) }
        [(strange(take, strange) if strange.any?), (missing(take, missing) if missing.any?), *uneven(take)].compact
      end

      def strange(take, ids)
        finding(take, "strange", "#{Words::Runs.count(ids.size, "file")} of take #{take[:number]} #{(ids.size == 1) ? "belongs" : "belong"} to no track",
          "#{Words::Runs.names(ids.map { |id| take[:tracks][id][:name] })} #{(ids.size == 1) ? "was" : "were"} recorded on tracks that this show has not.", ids)
      end

      def missing(take, tracks)
        finding(take, "missing", "#{Words::Runs.count(tracks.size, "track")} #{(tracks.size == 1) ? "has" : "have"} no file in take #{take[:number]}",
          "#{Words::Runs.names(tracks.map(&:name))} #{(tracks.size == 1) ? "was" : "were"} not recorded.", tracks.map(&:place))
      end

      # Of an imported take: what was recorded by us says itself where it was broken off.
      def uneven(take)
        return [] unless take[:imported]

        usual = take[:tracks].values.map { |track| track[:frames] }.tally.max_by(&:last)&.first
        odd = take[:tracks].reject { |_, track| track[:frames] == usual }
        return [] if odd.empty?

        [finding(take, "uneven", "Files of take #{take[:number]} differ in length",
          "#{Words::Runs.names(odd.values.map { |track| "#{track[:name]} has #{track[:frames]} samples" }, 3)}, the others #{usual}.", odd.keys)]
      end

      def finding(take, variant, title, what, places)
        Finding.new(rule: "take-fit", severity: "note", step: "soundcheck", variant: "#{variant}/#{take[:number]}", title: title, what: what,
          why: "At the virtual soundcheck these channels stay silent, or go apart.", endpoints: places)
      end
      private_class_method :strange, :missing, :uneven, :finding
    end
  end
end
