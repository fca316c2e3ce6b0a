/** Address of the compiled form of a module that runs in a process of its own, also where tests load sources. */
export function compiled(module: string, from: string): string {
  return new URL(module, from.replace('/server/src/', '/server/dist/')).href;
}
