# frozen_string_literal: true

require "core_helper"
require "support/web_model"

# What the page asked, what it is told meanwhile, and what it holds then. The library alone ends with the old answer.
RSpec.describe "The page's answers" do
  # One question whose first answer is made, kept on its way until something is told, and given then.
  def held_after(told)
    WebModel.evaluate("freshClient", <<~JS)
      (async () => {
        const client = new module.FreshClient();
        let kept = "before", asked = 0, begun, land;
        const [begins, lands] = [new Promise((done) => { begun = done; }), new Promise((done) => { land = done; })];
        const queryFn = async () => {
          const answer = kept;
          asked += 1;
          if (asked === 1) { begun(); await lands; }
          return answer;
        };
        client.fetchQuery({queryKey: ["shelf", "all"], queryFn});
        await begins;
        kept = "after";
        const told = #{told};
        land();
        await told;
        return [await client.fetchQuery({queryKey: ["shelf", "all"], queryFn, staleTime: Infinity}), asked];
      })()
    JS
  end

  it "are asked for again when it is told of a change while the first one is on its way" do
    expect(held_after('client.invalidateQueries({queryKey: ["shelf"], refetchType: "all"})')).to eq(["after", 2])
    expect(held_after('client.invalidateQueries({refetchType: "all"})')).to eq(["after", 2])
    expect(held_after('client.invalidateQueries({queryKey: ["takes"], refetchType: "all"})')).to eq(["before", 1])
  end
end
