import { createI18n } from 'vue-i18n'
import en from '@/messages/en'

/** All texts of the interface; another language is another file of the same shape. */
export const i18n = createI18n({ legacy: false, locale: 'en', fallbackLocale: 'en', messages: { en } })
