/** Copy the address of something that is reported, to be sent to another person. */
import { useEffect, useState } from "react";
import type { Finding } from "../api/client";
import { addressWith } from "../session/address";
import { findingPart } from "./part";

/** ms that it is said to be copied */
const SAID = 2500;

/** `to`: where it is reported, if not here. */
export function CopyLink({ finding, to }: { finding: Finding; to?: string }) {
  const [says, setSays] = useState("");
  useEffect(() => {
    const timer = says ? setTimeout(() => setSays(""), SAID) : undefined;
    return () => clearTimeout(timer);
  }, [says]);
  const copy = async () => {
    const link = window.location.origin + (to ?? addressWith({ finding: findingPart(finding), at: null }));
    setSays((await copied(link)) ? "copied" : link);
  };
  return (
    <>
      <button type="button" className="link" onClick={() => void copy()}>
        copy link
      </button>
      <span role="status" className="break-all text-ink-3">
        {says}
      </span>
    </>
  );
}

/** Whether a text could be put on the clipboard; a page that is not served securely has no clipboard of its own. */
async function copied(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text);
    return true;
  } catch {
    return false;
  }
}
