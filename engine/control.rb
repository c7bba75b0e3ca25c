# frozen_string_literal: true

module Loomshuttle
  module Engine
    # How the engine is spoken to: each request of the contract to the runner, and 20 times a
    # second what there is to tell to whoever subscribed.
    class Control
      PER_S = 20
      KNOWN = %w[status ribbon record stop arm mark relabel unmark patch named rename amend reset_peaks forget_levels places devices choose subscribe].freeze
      private_constant :PER_S, :KNOWN

      # @param path [String] of the socket
      # @param takes_folder [String] closed takes are renamed in it
      # @param devices [Devices] what can be opened
      def initialize(runner, path:, takes_folder:, places:, devices:)
        @runner, @takes_folder, @places, @devices = runner, takes_folder, places, devices
        contract = Runtime::LineContract.new(Shelf.api, "Engine", KNOWN)
        @line = Runtime::LineServer.new(path, contract: contract, tell: runner.faults) { |request| act(request) }
        Runtime::Loop.start("publish", pause_s: 1.0 / PER_S, tell: runner.faults) { publish }
      end

      private

      def publish
        @line.publish(meters: @runner.meters, status: @runner.status) if @line.subscribers?
      end

      # One branch a request, in the order of the contract.
      def act(request)
        case request["do"]
        when "status" then @runner.status
        when "ribbon" then @runner.ribbon
        when "record" then @runner.recorder.record(Capture::TakePlan.from_h(request["plan"]))
        when "stop" then @runner.recorder.stop || true
        when "places" then @places.list
        when "reset_peaks" then @runner.reset_peaks(request["lanes"]) && true
        when "forget_levels" then @runner.forget_levels || true
        when "rename" then rename(request)
        when "amend" then amend(request)
        when "devices" then @devices.list
        when "choose" then @runner.choose(@devices.device(request["device"])) && true
        else act_on_take(@runner.recorder.running, request)
        end
      end

      def act_on_take(take, request)
        case request["do"]
        when "arm" then take.arm(request["tracks"], request["on"])
        when "mark" then return take.mark(request["id"], request["label"].to_s, at_frame: request["at_frame"])
        when "relabel" then take.relabel(request["id"], request["label"])
        when "unmark" then take.unmark(request["id"])
        when "patch" then take.patch_changed(request["words"])
        when "named" then take.named(**request.slice("track", "name", "notes").transform_keys(&:to_sym))
        end
        true
      end

      def rename(request) = Renaming.track(folder_of(request), request["track"], request["name"])

      # Says more of a take that is over: its name, its notes, its marks.
      def amend(request)
        journal = Journal.new(folder_of(request))
        request["lines"].each { |line| journal.add(line["what"], **line.except("what").transform_keys(&:to_sym)) }
        true
      ensure
        journal&.close
      end

      # Of a take that is over, named relative to the takes' folder.
      def folder_of(request)
        folder = Runtime::Inside.path(@takes_folder, request["folder"], field: "folder")
        running = @runner.recorder.take
        raise BadInput.new(field: "folder", value: request["folder"], allowed: "a take that is over") if running && running.plan.folder == request["folder"]
        raise BadInput.new(field: "folder", value: request["folder"], allowed: "a take with a journal") unless Journal.read(folder)

        folder
      end
    end
  end
end
