export function growthPlot(growth: {
  readonly machine: string;
  readonly counts: readonly number[];
  readonly lines: readonly { readonly name: string; readonly unit: string; readonly values: readonly number[] }[];
}): string;
