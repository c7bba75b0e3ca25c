# frozen_string_literal: true

module Loomshuttle
  module Server
    # The shows that somebody works at, each made when it is first asked for.
    class Workspaces
      # An evening has a few open; somebody who leafs through years of them does not keep them all.
      OPEN = 16
      private_constant :OPEN

      # @param parts what each Workspace works with
      def initialize(**parts)
        @parts = parts
        @open = {}
        @lock = Mutex.new
      end

      # @param id [Integer]
      # @return [Workspace]
      def [](id)
        @lock.synchronize do
          found = @open.delete(id) || Workspace.new(id, **@parts)
          @open[id] = found
          @open.shift if @open.size > OPEN
          found
        end
      end

      # A workspace that is looked into and not kept open.
      #
      # @return [Workspace]
      def passing(id) = @lock.synchronize { @open[id] } || Workspace.new(id, **@parts)

      # A show whose lanes and desk are asked for: those are the show's that holds them.
      #
      # @param on_air [Store::OnAir]
      # @return [Show]
      # @raise [BadInput] where another one does
      def show_on_air(id, on_air)
        return self[id].show if on_air.on_air?(id)

        raise BadInput.new(field: "show", value: self[id].show.name, allowed: "the show on air; put this one on air first")
      end

      # @return [Array<Workspace>]
      def open = @lock.synchronize { @open.values }

      # @param id [Integer, nil] nil for all
      def forget(id = nil) = open.each { |workspace| workspace.forget if id.nil? || workspace.id == id }
    end
  end
end
