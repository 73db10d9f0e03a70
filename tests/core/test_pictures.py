"""Own pictures: upright, small, with nothing else in the file; what is none is refused with a sentence."""

from io import BytesIO

import pytest
from PIL import Image

from leitfaden_core.errors import BadDocument
from leitfaden_core.lessons import parse_lesson
from leitfaden_core.lessons.exchange import BadPackage, packed_lesson, unpacked
from leitfaden_core.lessons.pictures import SIDE, BadPicture, cleaned

pytestmark = pytest.mark.lessons

GPS, ORIENTATION = 0x8825, 0x0112


def file_of(width: int, height: int, form: str = "JPEG", turned: int = 1) -> bytes:
    """A picture whose left half is red, with a place and an orientation in its metadata."""
    picture = Image.new("RGB", (width, height), "white")
    picture.paste("red", (0, 0, width // 2, height))
    exif = Image.Exif()
    exif[ORIENTATION] = turned
    exif.get_ifd(GPS)[1] = "N"
    made = BytesIO()
    picture.save(made, form, exif=exif)
    return made.getvalue()


def opened(content: bytes) -> Image.Image:
    return Image.open(BytesIO(content))


@pytest.mark.parametrize("form", ["JPEG", "PNG", "WEBP"])
def test_place_time_and_device_are_gone_and_it_fits_a_page(form: str) -> None:
    made = cleaned(file_of(3000, 2000, form))
    kept = opened(made.content)
    assert (kept.format, max(kept.size), kept.size) == ("WEBP", SIDE, (made.width, made.height))
    assert not dict(kept.getexif()) and b"EXIF" not in made.content
    assert cleaned(file_of(3000, 2000, form)).id == made.id


def test_one_that_was_taken_upside_down_stands_upright() -> None:
    kept = opened(cleaned(file_of(200, 100, turned=3)).content).convert("RGB")
    red, white = kept.getpixel((190, 50)), kept.getpixel((10, 50))
    assert red[0] > 200 > 80 > red[1] and min(white) > 200


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"no picture",
        b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>",
        b"GIF89a" + bytes(50),
        file_of(300, 200)[:400],
        b"\x89PNG\r\n\x1a\n" + bytes(100),
    ],
    ids=["empty", "text", "svg", "gif", "cut", "false head"],
)
def test_what_is_no_picture_is_refused_with_a_sentence(content: bytes) -> None:
    with pytest.raises(BadPicture, match="no picture that can be read"):
        cleaned(content)


def test_a_small_file_that_would_unfold_to_a_huge_picture_is_refused_before_it_does() -> None:
    bomb = BytesIO()
    Image.new("1", (12_000, 12_000)).save(bomb, "PNG")
    assert len(bomb.getvalue()) < 100_000
    with pytest.raises(BadPicture, match="million pixels"):
        cleaned(bomb.getvalue())


class TestInAPackage:
    def lesson(self, name: str) -> object:
        picture = {"id": name, "alt": "a cracked hose", "caption": "seen from below"}
        station = {"kind": "explain", "id": "s", "title": "t", "pictures": [picture]}
        return parse_lesson({"title": "t", "stations": [station]})

    def test_it_travels_with_its_lesson(self) -> None:
        made = cleaned(file_of(400, 300))
        back = unpacked(packed_lesson(self.lesson(made.id), {made.id: made.content}).encode())
        [picture] = back.pictures
        assert back.lesson.pictures() == [picture.id] and (picture.width, picture.height) == (400, 300)

    @pytest.mark.parametrize("content", [None, b"<svg/>", b"PK\x03\x04"])
    def test_without_it_or_with_something_else_the_package_is_refused(self, content: bytes | None) -> None:
        name = "a" * 64
        with pytest.raises(BadPackage) as refused:
            unpacked(packed_lesson(self.lesson(name), {name: content} if content else {}).encode())
        assert refused.value.reasons[0].startswith("picture aaaaaaaaaaaa")


def test_a_picture_without_words_for_who_does_not_see_it_is_no_picture() -> None:
    picture = {"id": "b" * 64, "alt": ""}
    station = {"kind": "explain", "id": "s", "title": "t", "pictures": [picture]}
    with pytest.raises(BadDocument, match=r"pictures\.0\.alt"):
        parse_lesson({"title": "t", "stations": [station]})
