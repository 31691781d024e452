package plenzo.core.impact;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind.Holder;
import plenzo.core.digest.Digest;
import plenzo.core.item.Definition;
import plenzo.core.item.Definition.Input;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.target.ItemsDelta;
import plenzo.core.target.ItemsLooking.Limits;
import plenzo.core.target.ItemsLooking.Work;

/** Each rule with the smallest data that violates it, and with data just short of it. */
class ItemRulesTest {
  private static final ComponentKey A = ComponentKey.of("file/fares/a.txt");
  private static final ComponentKey RULE = ComponentKey.of("rule/fares.night");
  private static final ComponentKey FORM = ComponentKey.of("form/fares.quote");
  private static final ComponentKey TABLE = ComponentKey.of("table/fares.band");

  /** A case that is built up; empty it violates nothing. */
  private static final class Building {
    private final Map<Holder, List<ItemsDelta.Change>> changes = new EnumMap<>(Holder.class);
    private final Map<ComponentKey, ItemSeen> present = new HashMap<>();
    private final Set<ComponentKey> after = new HashSet<>();
    private final List<Definition> arriving = new ArrayList<>();
    private final List<Definition> staying = new ArrayList<>();
    private final List<ItemsCase.InputState> inputs = new ArrayList<>();
    private List<ComponentKey> onlyThere = List.of();
    private Set<Holder> holders = Set.of(Holder.DIRECTORY, Holder.HOST);
    private Limits limits = Limits.NONE;
    private boolean closes = true;
    private @Nullable Work work;

    Building change(ComponentKey key, Difference act, boolean activate, long size) {
      changes
          .computeIfAbsent(key.kind().holder(), h -> new ArrayList<>())
          .add(
              new ItemsDelta.Change(
                  key,
                  act,
                  act == Difference.ADDED ? null : Digest.of("old"),
                  act == Difference.ADDED ? null : "r1",
                  act == Difference.REMOVED ? null : Digest.of("new"),
                  size,
                  activate));
      if (act != Difference.REMOVED) {
        after.add(key);
      }
      return this;
    }

    Building there(ComponentKey key, @Nullable Boolean active) {
      present.put(key, new ItemSeen(key, Digest.of("x"), 1, "r1", active, null, List.of(), ""));
      after.add(key);
      return this;
    }

    List<String> rules() {
      Map<Holder, ItemsDelta> deltas = new EnumMap<>(Holder.class);
      changes.forEach(
          (holder, list) ->
              deltas.put(
                  holder,
                  new ItemsDelta(
                      list,
                      Map.of(),
                      Map.of(),
                      (kind, digest) -> {
                        throw new IllegalStateException();
                      })));
      return Rules.run(
              Rules.ITEMS,
              new ItemsCase(
                  "fares",
                  "test/main",
                  deltas,
                  present,
                  onlyThere,
                  after,
                  Set.of(Holder.DIRECTORY, Holder.HOST),
                  holders,
                  Map.of(Holder.DIRECTORY, limits),
                  closes,
                  work,
                  arriving,
                  staying,
                  inputs))
          .stream()
          .map(f -> f.severity() + " " + f.rule())
          .toList();
    }
  }

  private static Building a() {
    return new Building();
  }

  @Test
  void aTargetMustBeThere() {
    Building b = a();
    assertThat(b.rules()).isEmpty();
    b.holders = Set.of(Holder.HOST);
    assertThat(b.rules()).containsExactly("BLOCKER no-target");
  }

  @Test
  void aPathMustFit() {
    Building b = a().change(A, Difference.ADDED, false, 1);
    b.limits = new Limits("fares/a.txt".length(), true, -1, 0, List.of());
    assertThat(b.rules()).isEmpty();
    b.limits = new Limits("fares/a.txt".length() - 1, true, -1, 0, List.of());
    assertThat(b.rules()).containsExactly("BLOCKER path-too-long");
    Building goes = a().change(A, Difference.REMOVED, false, 0);
    goes.limits = b.limits;
    assertThat(goes.rules()).isEmpty();
  }

  @Test
  void namesMustDifferWhereCaseDoesNot() {
    Building b =
        a().change(A, Difference.ADDED, false, 1).there(ComponentKey.of("file/fares/A.txt"), null);
    b.limits = new Limits(0, true, -1, 0, List.of());
    assertThat(b.rules()).isEmpty();
    b.limits = new Limits(0, false, -1, 0, List.of());
    assertThat(b.rules()).containsExactly("BLOCKER case-collision");
  }

  @Test
  void thereMustBeRoom() {
    long room = (64L << 20) + 1000 + 24;
    Building b = a().change(A, Difference.ADDED, false, 1000);
    b.limits = new Limits(0, true, room, 24, List.of());
    assertThat(b.rules()).isEmpty();
    b.limits = new Limits(0, true, room - 1, 24, List.of());
    assertThat(b.rules()).containsExactly("BLOCKER no-room");
  }

  @Test
  void filesThatWereWrittenInPlaceAreNamed() {
    Building b = a().change(A, Difference.ADDED, false, 1);
    b.limits = new Limits(0, true, -1, 0, List.of("fares/log.txt"));
    assertThat(b.rules()).containsExactly("RISK changed-in-place");
    Building nothing = a();
    nothing.limits = b.limits;
    assertThat(nothing.rules()).isEmpty();
  }

  private static Definition definition(ComponentKey key, ComponentKey needs) {
    return new Definition(
        key, "", List.of(new Definition.Reference("reads", needs)), List.of(), Json.object("x", 1));
  }

  @Test
  void whatADefinitionNeedsMustBeThere() {
    Building b = a().change(RULE, Difference.CHANGED, false, 1).there(RULE, true);
    b.arriving.add(definition(RULE, TABLE));
    assertThat(b.rules()).containsExactly("BLOCKER reference-missing");
    b.after.add(TABLE);
    assertThat(b.rules()).isEmpty();
  }

  @Test
  void whatGoesMustNotBeNeededByWhatStays() {
    Building b = a().change(RULE, Difference.REMOVED, false, 0).there(FORM, true);
    b.staying.add(definition(FORM, RULE));
    assertThat(b.rules()).containsExactly("BLOCKER dependent-breaks");
    Building other = a().change(RULE, Difference.REMOVED, false, 0).there(FORM, true);
    other.staying.add(definition(FORM, TABLE)); // broken before; this run does not do it
    assertThat(other.rules()).isEmpty();
  }

  @Test
  void inputsMustBeBoundFitAndBeOfThisStage() {
    Input plain = new Input("address", Input.Type.ADDRESS, "Where", false, null, null);
    Input secret = new Input("key", Input.Type.TEXT, "", true, null, null);
    Building b = a();
    b.inputs.add(new ItemsCase.InputState(RULE, plain, "", true, "", false));
    b.inputs.add(new ItemsCase.InputState(RULE, secret, "", true, "", false));
    assertThat(b.rules()).containsExactly("BLOCKER input-unbound", "BLOCKER secret-missing");
    b.inputs.clear();
    b.inputs.add(new ItemsCase.InputState(RULE, plain, "is no address", false, "", false));
    assertThat(b.rules()).containsExactly("BLOCKER input-unfit");
    b.inputs.clear();
    b.inputs.add(new ItemsCase.InputState(RULE, plain, "", false, "test", false));
    assertThat(b.rules()).containsExactly("RISK points-elsewhere");
    b.inputs.clear();
    b.inputs.add(new ItemsCase.InputState(RULE, plain, "", false, "", false));
    assertThat(b.rules()).isEmpty();
  }

  /**
   * What the host is told to forget is missed by what needs it; a plan that writes that is shut.
   */
  @Test
  void aValueThatTheHostForgetsIsARisk() {
    Input plain = new Input("address", Input.Type.ADDRESS, "Where", false, null, null);
    ItemsCase.InputState gone = new ItemsCase.InputState(RULE, plain, "", true, "", true);
    Building b = a();
    b.inputs.add(gone);
    assertThat(b.rules()).containsExactly("BLOCKER input-unbound");
    b.inputs.clear();
    b.inputs.add(gone.unwritten());
    assertThat(b.rules()).containsExactly("RISK value-forgotten");
    b.inputs.clear();
    ItemsCase.InputState never = new ItemsCase.InputState(RULE, plain, "", true, "", false);
    b.inputs.add(never.unwritten());
    assertThat(b.rules()).containsExactly("BLOCKER input-unbound");
  }

  @Test
  void whatArrivesOrStaysOffIsSaid() {
    assertThat(a().change(RULE, Difference.ADDED, false, 1).rules())
        .containsExactly("NOTE arrives-off");
    assertThat(a().change(RULE, Difference.ADDED, true, 1).rules()).isEmpty();
    assertThat(a().change(RULE, Difference.CHANGED, false, 1).there(RULE, false).rules())
        .containsExactly("NOTE stays-off");
    assertThat(a().change(RULE, Difference.CHANGED, false, 1).there(RULE, true).rules()).isEmpty();
  }

  @Test
  void runningWorkAndPeopleAreSaid() {
    Building b = a().change(RULE, Difference.CHANGED, false, 1).there(RULE, true);
    b.work = new Work(List.of(new Work.Item("1", "Quote", "x", "form/fares.quote")), 0, false);
    assertThat(b.rules()).containsExactly("NOTE running-work");
    b.work = new Work(List.of(new Work.Item("1", "Quote", "x", "rule/fares.night")), 1, false);
    assertThat(b.rules()).containsExactly("RISK running-work", "NOTE people-signed-in");
    b.closes = false;
    assertThat(b.rules()).as("nobody is shut out").isEmpty();
  }

  @Test
  void aRunOfRowsAloneShutsPeopleOutToo() {
    Building b = a();
    b.work = new Work(List.of(), 3, false);
    assertThat(b.rules()).containsExactly("NOTE people-signed-in");
    b.work = new Work(List.of(), 0, false);
    assertThat(b.rules()).isEmpty();
  }

  @Test
  void whatIsOnlyThereIsListed() {
    Building b = a();
    b.onlyThere = List.of(A);
    assertThat(b.rules()).containsExactly("NOTE only-there");
  }
}
