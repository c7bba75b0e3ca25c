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
    # variant    tells findings of one rule about the same places apart
    # about      plain data of what it was that somebody may leave on purpose: values, never names
    # mend       Mend, or nil where the cure is not clear
    Finding = Value.of(:rule, :severity, :step, :title, :what, :why, :endpoints, variant: nil, about: nil, mend: nil, accepted: nil) do
      # The same whatever the order in which things were laid.
      def key = "#{rule}:#{sum([variant, endpoints.uniq.sort])[0, 12]}"
      # An acceptance holds as long as this is the same.
      def digest = sum([variant, severity, endpoints.uniq.sort, about])[0, 16]

      def to_data
        {key: key, rule: rule, severity: severity, step: step, title: title, what: what, why: why, endpoints: endpoints,
         mend: mend&.to_data, digest: digest, accepted: accepted&.to_h}
      end

      private

      def sum(data) = Digest::SHA256.hexdigest(JSON.generate(data))
    end
  end
end
