import { StyleSheet } from "../styleSheet.ts";

/** What a grid can't do without. */
const rules = `
:where([data-grid]) { overflow: auto; overflow-anchor: none; position: relative; max-block-size: 70vh; }
:where([data-grid] > table) { table-layout: fixed; border-collapse: separate; border-spacing: 0; min-inline-size: 100%; }
:where([data-grid] > table > * > tr > :is(th, td)) { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; text-align: start; position: relative; }
:where([data-grid] > table > * > tr > [data-align="end"]) { text-align: end; }
:where([data-grid] > table > * > tr > [data-align="center"]) { text-align: center; }
:where([data-grid] > table > thead > tr > *) { position: sticky; inset-block-start: 0; z-index: 2; background: Canvas; }
:where([data-grid] > table > tfoot > tr > *) { position: sticky; inset-block-end: 0; z-index: 2; background: Canvas; }
:where([data-grid] > table > * > tr > [data-sticky]) { position: sticky; z-index: 1; background: Canvas; }
:where([data-grid] > table > :is(thead, tfoot) > tr > [data-sticky]) { z-index: 3; }
:where([data-grid] > table > tbody > tr[data-space] > td) { padding: 0; border: 0; }
:where([data-grid] > table > tbody > tr > td[data-editing]) { padding: 0; overflow: visible; z-index: 1; }
:where([data-grid] td[data-editing] > :is(input, select, textarea)) { box-sizing: border-box; inline-size: 100%; block-size: 100%; min-block-size: 0; resize: none; }
:where([data-cell-set]) { position: absolute; z-index: 4; inset-block-start: 0; inset-inline-start: 0; display: grid; min-inline-size: 100%; max-block-size: 16rem; overflow: auto; padding: 0.25rem 0.5rem; background: Canvas; border: 1px solid; box-sizing: border-box; text-align: start; }
:where([data-grid] tr[data-gone] > td:not([data-editing])) { opacity: 0.5; }
:where([data-grid] [data-grip]) { position: absolute; inset-block: 0; inset-inline-end: 0; inline-size: 0.5rem; cursor: col-resize; touch-action: none; }
:where([data-grid] th[data-mark] > span) { position: absolute; inline-size: 1px; block-size: 1px; overflow: hidden; clip-path: inset(50%); }
:where([data-grid] th[data-sortable]) { cursor: pointer; user-select: none; }
:where([data-reorders] tbody td[data-mark]) { cursor: grab; touch-action: none; }
:where([data-reorders] tbody td[data-mark]:empty)::before { content: "\u22EE" / ""; opacity: 0.6; }
:where([data-grid][data-moving], [data-grid][data-moving] td[data-mark]) { cursor: grabbing; user-select: none; }
:where([data-grid] tr[data-drop="before"] > td) { box-shadow: inset 0 2px Highlight; }
:where([data-grid] tr[data-drop="after"] > td) { box-shadow: inset 0 -2px Highlight; }
:where([data-cell-message]) { position: absolute; pointer-events: none; z-index: 4; inset-block-start: 0; inset-inline-start: 0; max-inline-size: 24rem; }
@media print { :where([data-grid]) { overflow: visible; max-block-size: none; } }
`;

export const gridStyles = new StyleSheet(rules);
