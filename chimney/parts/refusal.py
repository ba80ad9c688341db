"""A flow that cannot be done says why, and where it can be put right."""

from django.urls import reverse


class Refused(Exception):  # noqa: N818 - it is an answer, not an error
    """sentence: what stands in the way; link_words, url_name, args: the way out."""

    def __init__(self, sentence, link_words="", url_name="", *args):
        super().__init__(sentence)
        self.sentence = sentence
        self.link_words = link_words
        self.url_name = url_name
        self.args_of_url = args

    @property
    def url(self):
        return reverse(self.url_name, args=self.args_of_url) if self.url_name else ""
