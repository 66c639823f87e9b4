/** What measuring each tool came to. */
import { client, noConnection } from "../../api/client";
import { proving } from "../../score/proving";

export const useProven = proving(
  (document) => document.tools.map((tool) => String(tool.number)),
  (document, tool) => client.POST("/api/setter/proof", { body: { document, tool: Number(tool) } }).catch(noConnection),
);
