import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "changer", answer: "exchange", Page: lazy(() => import("./changer")) };

export default stage;
