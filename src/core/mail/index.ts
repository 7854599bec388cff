export { type Awaited, type Found, type MailFinding, readMail } from './read-mail';
