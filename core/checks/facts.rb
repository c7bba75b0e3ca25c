# frozen_string_literal: true

module Loomshuttle
  module Checks
    # What is known beside the plan, frozen at one moment. Rules say which of it they read
    # (READS); what nobody knows is nil, and a rule that would need it says nothing then.
    #
    # desk    Patch::Scene that the desk says it has
    # takes   [{number:, sample_rate_hz:, imported:, tracks: {track id => {name:, frames:}}}] of the show;
    #   :tracks only where they are known
    # engine  {recording: number of the take that runs, or nil; lanes_out: how many the audio device plays, or nil}
    # disk    {free_bytes:, margin_bytes:, sample_bytes:, planned_s: or nil} where takes are written
    # linecheck  {row id => {state: as Linecheck::State#standing has it, said: words, about: the
    #   same as plain values, without names}}
    # soundcheck  what a return ping heard of the patch as it is: {wrong: [[lane, state, faults]], places: ids, heard: :recorder,
    #   :stage or :unknown, said: words}
    # stems  {song id => {file => "missing" or "cut"}}, only what is not as it was taken in
    Facts = Value.of(desk: nil, takes: nil, engine: nil, disk: nil, linecheck: nil, soundcheck: nil, stems: nil)
    Facts::NONE = Facts.new
  end
end
