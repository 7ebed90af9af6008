declare namespace JSX {
  interface Element { tag: unknown }
  interface ElementChildrenAttribute { children: unknown }
  interface IntrinsicAttributes { key?: string }
  interface IntrinsicElements { [name: string]: any }
}

declare module '*.css' {
  const classes: Record<string, string>
  export default classes
}
