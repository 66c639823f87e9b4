import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "changer", answer: "exchange", plays: true, Page: lazy(() => import("./changer")) };

export default stage;
