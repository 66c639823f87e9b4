import { lazy } from "react";
import type { StageView } from "../stage";

const stage: StageView = { name: "tools", answer: "exchange", Page: lazy(() => import("./tools")) };

export default stage;
