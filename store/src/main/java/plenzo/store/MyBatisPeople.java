package plenzo.store;

import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import plenzo.core.history.Names;
import plenzo.core.person.Person;

/** People; each of their names has its sign in the history before anything is said of them. */
final class MyBatisPeople extends MyBatisShelf<Person> {
  private static final SecureRandom RANDOM = new SecureRandom();
  private static final int SALT = 32;

  /** Shorter full names are words of every day. */
  private static final int SHORTEST = 3;

  private final EventMapper events;

  MyBatisPeople(
      RecordMapper mapper,
      EventMapper events,
      Description<Person> as,
      Touched touched,
      ReadBefore before) {
    super(mapper, Table.PERSON, as, touched, before);
    this.events = events;
  }

  @Override
  public void insert(Person p) {
    super.insert(p);
    sign(p);
  }

  @Override
  public boolean update(Person p) {
    boolean done = super.update(p);
    if (done) {
      sign(p);
    }
    return done;
  }

  /** Gives those of the person's names a sign that have none. */
  void sign(Person p) {
    Set<String> words = new TreeSet<>(p.writesAs());
    words.add(p.login());
    if (p.name().length() >= SHORTEST) {
      words.add(p.name());
    }
    Set<String> known =
        events.calledOf(p.login()).stream().map(Names.Called::word).collect(Collectors.toSet());
    for (String word : words) {
      if (!known.contains(word)) {
        byte[] salt = new byte[SALT];
        RANDOM.nextBytes(salt);
        String hex = HexFormat.of().formatHex(salt);
        events.insertCalled(new Names.Called(Names.id(hex, word), hex, word, p.login()));
      }
    }
  }
}
