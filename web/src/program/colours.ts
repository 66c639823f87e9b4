/** What a text is made of: remarks and parameters stand out from the words. */
import type { Extension } from "@codemirror/state";
import { Decoration, type EditorView, MatchDecorator, ViewPlugin, WidgetType } from "@codemirror/view";

class Gap extends WidgetType {
  override eq() {
    return true;
  }

  toDOM() {
    const gap = document.createElement("span");
    gap.textContent = "  ";
    return gap;
  }
}

const remark = Decoration.mark({ class: "cm-remark" });
const parameter = Decoration.mark({ class: "cm-parameter" });
const gap = Decoration.replace({ widget: new Gap() });

function matching(regexp: RegExp): Extension {
  const matcher = new MatchDecorator({
    regexp,
    decoration: ([found]) => (found.startsWith("#") ? parameter : found.startsWith(" ") ? gap : remark),
  });
  return ViewPlugin.define(
    (view: EditorView) => ({
      shown: matcher.createDeco(view),
      update(update) {
        this.shown = matcher.updateDeco(update, this.shown);
      },
    }),
    { decorations: (plugin) => plugin.shown },
  );
}

export const colours = matching(/\([^)]*\)|;.*|#\d+|#<[^>]*>/g);

/** The same where a text is only read: the spaces by which remarks stand in a column take no room. */
export const coloursOfRead = matching(/\([^)]*\)|;.*|#\d+|#<[^>]*>| {3,}(?=\()/g);
