export { type Awaited, type Found, type MailFinding, type Names, namesOf, readMail } from './read-mail';
