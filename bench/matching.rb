# frozen_string_literal: true

# Measures how files are matched to tracks by their names:
#   bundle exec ruby bench/matching.rb        # made-up names of six styles, and 128 files to 64 tracks
require_relative "../boot/core"
require_relative "../spec/support/made_up_names"
require_relative "timing"
Timing.extend(Timing)

# @return [Hash] of made-up names: how many right, unsure, wrong, and wrong without doubt
def names(seeds)
  counts = Hash.new(0)
  seeds.each do |seed|
    all = MadeUpNames.new(seed).tracks
    MadeUpNames::STYLES.each do |style|
      folder = MadeUpNames.new(seed).folder(style, all)
      found = Loomshuttle::Soundcheck::Matching.match(all, folder.keys.map { |name| {name: name, channels: 1} })[:matched].to_h { |one| [one[:file], one] }
      folder.each { |file, track| count(counts, found[file], track) }
    end
  end
  counts
end

def count(counts, found, track)
  counts[:names] += 1
  right = found && found[:track] == track
  counts[right ? :right : :wrong] += 1
  counts[:unsure] += 1 unless found&.fetch(:sure)
  counts[:wrong_and_sure] += 1 if !right && found&.fetch(:sure)
end

# Two files for each track, none called as it is.
def large
  made = MadeUpNames.new(1)
  all = made.tracks
  files = %i[misspelt short].flat_map { |style| made.folder(style, all).keys }.map.with_index { |title, n| {name: n, title: title, channels: 1} }
  Array.new(9) { Timing.timed { Loomshuttle::Soundcheck::Matching.match(all, files) } }.then { |times| {files: files.size, tracks: all.size, ms: Timing.median(times).round} }
end

puts JSON.generate(names(1..3)), JSON.generate(large)
