import { describe, expect, it } from "vitest";
import { FreshClient } from "../../src/api/freshClient";

/** A moment that is waited for, and said. */
function moment() {
  let come = () => {};
  const promise = new Promise<void>((done) => {
    come = done;
  });
  return { promise, come: () => come() };
}

/** One question whose first answer is made, kept on its way until something is told, and given then. */
async function heldAfter(told: (client: FreshClient) => Promise<void>): Promise<[string, number]> {
  const client = new FreshClient();
  let kept = "before";
  let asked = 0;
  const [begun, land] = [moment(), moment()];
  const queryFn = async () => {
    const answer = kept;
    asked += 1;
    if (asked === 1) {
      begun.come();
      await land.promise;
    }
    return answer;
  };
  client.fetchQuery({ queryKey: ["shelf", "all"], queryFn });
  await begun.promise;
  kept = "after";
  const done = told(client);
  land.come();
  await done;
  return [await client.fetchQuery({ queryKey: ["shelf", "all"], queryFn, staleTime: Number.POSITIVE_INFINITY }), asked];
}

// What the page asked, what it is told meanwhile, and what it holds then. The library alone ends with the old answer.
describe("the page's answers", () => {
  it("are asked for again when it is told of a change while the first one is on its way", async () => {
    const heldAfterAll = (filters: Parameters<FreshClient["invalidateQueries"]>[0]) =>
      heldAfter((client) => client.invalidateQueries(filters));
    expect(await heldAfterAll({ queryKey: ["shelf"], refetchType: "all" })).toEqual(["after", 2]);
    expect(await heldAfterAll({ refetchType: "all" })).toEqual(["after", 2]);
    expect(await heldAfterAll({ queryKey: ["takes"], refetchType: "all" })).toEqual(["before", 1]);
  });
});
