export async function retry<T>(run: () => Promise<T>, times = 3): Promise<T> {
  try {
    return await run()
  } catch (e) {
    if (times <= 1) throw e
    return retry(run, times - 1)
  }
}
