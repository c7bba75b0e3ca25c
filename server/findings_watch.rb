# frozen_string_literal: true

module Loomshuttle
  module Server
    # Finds once what is found in the open shows, whatever made it so: an edit, a take, the desk, the disk.
    # Browsers are told what is new, and the list of shows what is open in each.
    class FindingsWatch
      # Disk and engine tell nobody when they change; they are looked at this often.
      LOOK_S = 2
      # Shows whose findings nobody has counted yet, a few at a time.
      UNCOUNTED = 4
      private_constant :LOOK_S, :UNCOUNTED

      # @param workspaces [Workspaces]
      # @param shelf [Store::Shelf]
      # @yield [Integer, Hash] show's id; version and findings, where they are others now
      def initialize(workspaces, shelf, &publish)
        @workspaces, @shelf, @publish = workspaces, shelf, publish
        @lock = Mutex.new
        @news = Thread::ConditionVariable.new
        @told = {}
      end

      def start
        Runtime::Loop.start("findings watch", retry_s: 1) { turn }
        self
      end

      # Something that findings hang on may be another now.
      def nudge = @lock.synchronize { @nudged = true and @news.signal }

      private

      def turn
        @lock.synchronize do
          @news.wait(@lock, LOOK_S) unless @nudged
          @nudged = false
        end
        @workspaces.open.each { |workspace| look(workspace) }
        @shelf.uncounted(UNCOUNTED).each { |id| look(@workspaces.passing(id)) }
      end

      def look(workspace)
        kept = workspace.kept
        found = workspace.findings(kept)
        version, known = @told[workspace.id]
        return if known.equal?(found) && version == kept.version

        @shelf.note_findings(workspace.id, kept.version, counts(found, kept.version))
        # Of another version the same is news too: until it is told, a list has it that nobody looked at that one yet.
        @publish.call(workspace.id, {version: kept.version, findings: found.map(&:to_data)}) if known != found || version != kept.version
        @told[workspace.id] = [kept.version, found]
      rescue BadInput
        # It has been deleted meanwhile.
        @told.delete(workspace.id)
      rescue => e
        # One show that cannot be looked into keeps nobody from the others.
        warn "findings watch: show #{workspace.id}: #{e.class}: #{e.message}", *e.backtrace&.first(4)
      end

      def counts(found, version)
        found.reject(&:accepted).group_by(&:severity).transform_values(&:size).merge("version" => version)
      end
    end
  end
end
