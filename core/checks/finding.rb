# frozen_string_literal: true

module Loomshuttle
  module Checks
    # One thing that a check has to say.
    #
    # severity   "stop" (sound is lost, or heard by the wrong people), "warn", "note"
    # step       the step of the work where it is mended
    # endpoints  the places that it is about
    # what       one sentence with the names and numbers of this show
    # why        one sentence that says why it matters
    # mend       Mend, or nil where the cure is not clear
    # about      what the finding depends on; when it changes an acceptance no longer holds
    Finding = Value.of(:rule, :severity, :step, :title, :what, :why, :endpoints, mend: nil, about: nil, accepted: nil) do
      def key = "#{rule}:#{endpoints.first}"
      def digest = Digest::SHA256.hexdigest(JSON.generate(about || [what, endpoints]))[0, 16]

      def to_data
        {key: key, rule: rule, severity: severity, step: step, title: title, what: what, why: why, endpoints: endpoints,
         mend: mend&.to_data, digest: digest, accepted: accepted&.to_h}
      end
    end
  end
end
