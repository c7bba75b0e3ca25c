# frozen_string_literal: true

module Loomshuttle
  module Checks
    # What is known beside the plan, frozen at one moment. Rules say which of it they read
    # (READS); what nobody knows is nil, and a rule that would need it says nothing then.
    #
    # desk    Patch::Scene that the desk says it has
    # takes   [{number:, sample_rate_hz:}] of the show
    # engine  {rate_hz:, lanes_in:, lanes_out:} of its device, and held_dbfs: [dB] by lane
    # disk    {free_bytes:, margin_bytes:, sample_bytes:, planned_s:} where takes are written
    Facts = Value.of(desk: nil, takes: nil, engine: nil, disk: nil)
    Facts::NONE = Facts.new
  end
end
