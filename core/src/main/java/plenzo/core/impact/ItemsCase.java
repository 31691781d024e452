package plenzo.core.impact;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.item.Definition;
import plenzo.core.item.ItemSeen;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking;

/**
 * What the rules about files and definitions look at.
 *
 * @param application its key
 * @param present what the site holds
 * @param onlyThere what it holds and no version knows
 * @param after every component of the application that is there after the run, of any kind
 * @param needed every kind of target that the version's components need
 * @param holders targets that the site has
 * @param limits of each target
 * @param closes whether the run lets only operators in, which a run of rows alone does too
 * @param work running work, null where the host cannot tell
 * @param arriving documents that the run writes
 * @param staying documents that stay as they are
 * @param inputs what stands in for each declared input
 */
public record ItemsCase(
    String application,
    String site,
    Map<Holder, ItemsDelta> deltas,
    Map<ComponentKey, ItemSeen> present,
    List<ComponentKey> onlyThere,
    Set<ComponentKey> after,
    Set<Holder> needed,
    Set<Holder> holders,
    Map<Holder, ItemsLooking.Limits> limits,
    boolean closes,
    ItemsLooking.@Nullable Work work,
    Collection<Definition> arriving,
    Collection<Definition> staying,
    List<InputState> inputs) {

  /**
   * A declared input and what the site gives it.
   *
   * @param problem why the value does not serve; empty when it does
   * @param missing true when there is neither a value nor a default
   * @param sameAs stage whose value is the same although it is another place; empty when none
   * @param forgotten true when nothing is set any more and the plan has the host forget what it has
   */
  public record InputState(
      ComponentKey neededBy,
      Definition.Input input,
      String problem,
      boolean missing,
      String sameAs,
      boolean forgotten) {
    /** Of a plan that writes nothing that needs it. */
    public InputState unwritten() {
      return missing && forgotten
          ? new InputState(neededBy, input, problem, /* missing= */ false, sameAs, forgotten)
          : this;
    }
  }
}
