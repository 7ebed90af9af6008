export interface Night { date: Date, telescope: string, member?: string }
