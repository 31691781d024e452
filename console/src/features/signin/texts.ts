/** What the pages of signin say. */
export const t = {
  page: {
    chooseAPassword: 'Choose a password',
    signInToPlenzo: 'Sign in to Plenzo',
    name: 'Name',
    presentPassword: 'Present password',
    password: 'Password',
    newPassword10CharactersOr: 'New password, 10 characters or more',
    changeThePassword: 'Change the password',
    signIn: 'Sign in',
  },
};
