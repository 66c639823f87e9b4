import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "proof", answer: "exchange", Page: lazy(() => import("./proof")) };

export default stage;
