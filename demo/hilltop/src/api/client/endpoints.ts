// Written by the server's build. Do not edit.
export const endpoints = { seeing: '/seeing', telescopes: '/telescopes' }
