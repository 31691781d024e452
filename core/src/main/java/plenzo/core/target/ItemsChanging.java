package plenzo.core.target;

/** Changes a directory or an application host, and can switch back. */
public interface ItemsChanging extends Changing {
  /**
   * The switch back: what the mark's switch replaced is there again. Idempotent; needs no memory.
   *
   * @throws SwitchRefused when what the run wrote was touched since; nothing was changed then
   */
  void undo(RunMark mark);

  /**
   * Lets only operators in, or everybody again. Idempotent; nothing where the connector has no
   * {@link Connector.Capability#MAINTENANCE}.
   *
   * @param notice what people are told
   */
  void maintenance(boolean on, long run, String notice);

  /** Switches one component on or off. */
  void activation(plenzo.core.component.ComponentKey key, boolean active);
}
