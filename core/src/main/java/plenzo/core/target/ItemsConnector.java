package plenzo.core.target;

/** Speaks to directories or application hosts. */
public non-sealed interface ItemsConnector extends Connector {
  @Override
  ItemsLooking look(Access access);

  @Override
  ItemsChanging change(Access access);

  /**
   * Makes a plain target fit for being switched: a step of the set-up, said before with its cost.
   * Repeatable.
   *
   * @return what was done, in words
   * @throws TargetFailed when it cannot be done; nothing is lost then
   */
  String makeReady(Access access);

  /**
   * A place of its own for a rehearsal. Only with {@link Connector.Capability#SCRATCH}, or where
   * {@link ItemsLooking#spaces} says so.
   *
   * @param changing how the target is changed
   */
  default Aside aside(Access changing, long rehearsal) {
    throw new UnsupportedOperationException("There is no place to rehearse in");
  }
}
