declare namespace JSX {
  interface IntrinsicElements { [name: string]: unknown }
}
declare module 'react/jsx-runtime'
declare module '*.css'
