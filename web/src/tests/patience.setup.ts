/** A machine that is busy with something else takes longer: what is waited for is given time, not a second. */
import { configure } from "@testing-library/react";
import { beforeEach } from "vitest";

configure({ asyncUtilTimeout: 20_000 });

/** Each test begins where no address has led anywhere yet. */
beforeEach(() => window.history.replaceState(null, "", "/"));

// jsdom lays nothing out; an editor measures its texts all the same.
Range.prototype.getClientRects = () => [] as unknown as DOMRectList;
