package plenzo.core.trust;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.Anchor;

/**
 * A package that was built here or came from elsewhere.
 *
 * @param id such as "K-7"
 * @param file where it lies among Plenzo's own files
 * @param manifest SHA-256 of its manifest: the same for the same version anywhere
 * @param signer id of the key
 * @param problem why it may not be brought in; empty when it may, or was built here
 * @param parent the version that its version was drafted from; null for a first one
 * @param needs prerequisites of its version, as they are written
 * @param anchor the history's head that its manifest holds, null when it holds none
 * @param handedOutAt when it was last saved by somebody, null when it never was
 */
public record Parcel(
    String id,
    State state,
    String application,
    String number,
    String name,
    String file,
    long size,
    String manifest,
    String signer,
    String problem,
    @Nullable String parent,
    List<String> needs,
    String from,
    Instant at,
    String by,
    @Nullable Instant handedOutAt,
    @Nullable String handedOutBy,
    @Nullable Anchor anchor,
    int revision) {
  public Parcel {
    needs = List.copyOf(needs);
  }

  /** Where it stands. */
  public enum State {
    BUILT("built"),
    RECEIVED("received"),
    BROUGHT_IN("brought in");

    private final String code;

    State(String code) {
      this.code = code;
    }

    public String code() {
      return code;
    }
  }

  /** What must be there before it, wherever it goes; a sentence each. */
  public List<String> before() {
    return before(application, parent, needs);
  }

  /** The same of a version that is no package yet. */
  public static List<String> before(
      String application, @Nullable String parent, List<String> needs) {
    List<String> out = new ArrayList<>();
    if (parent != null) {
      out.add(
          application
              + " "
              + parent
              + ", which it was drafted from: its package comes first, where any version of "
              + application
              + " is there already.");
    }
    for (String need : needs) {
      out.add(
          need.startsWith("server/")
              ? "The software of the " + need.substring(7) + " at the site."
              : need + " at the same site.");
    }
    return out;
  }

  public Parcel broughtIn() {
    return with(State.BROUGHT_IN, handedOutAt, handedOutBy, problem);
  }

  public Parcel handedOut(Instant when, String who) {
    return with(state, when, who, problem);
  }

  public Parcel withProblem(String now) {
    return with(state, handedOutAt, handedOutBy, now);
  }

  private Parcel with(
      State next, @Nullable Instant outAt, @Nullable String outBy, String nextProblem) {
    return new Parcel(
        id,
        next,
        application,
        number,
        name,
        file,
        size,
        manifest,
        signer,
        nextProblem,
        parent,
        needs,
        from,
        at,
        by,
        outAt,
        outBy,
        anchor,
        revision);
  }
}
