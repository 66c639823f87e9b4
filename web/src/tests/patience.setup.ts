/** A machine that is busy with something else takes longer: what is waited for is given time, not a second. */
import { configure } from "@testing-library/react";

configure({ asyncUtilTimeout: 20_000 });
